import { generateKeyPairSync } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest'
import type { StandingKind } from '../../core/standing/standing.ts'
import { a, mx, startDnsServer, txt, type SimulatedDnsServer, type Zone } from '../../simulated/dnsServer.ts' // prettier-ignore
import { testConfig } from '../../testing/people.ts'
import type { Config } from '../platform/config.ts'
import { openDns } from './dns.ts'
import { lookUpDomain, publicKeyOf } from './lookUp.ts'

const folder = mkdtempSync(join(tmpdir(), 'yomble-standing-'))
const keyFile = join(folder, 'dkim.pem')
const { privateKey } = generateKeyPairSync('rsa', { modulusLength: 2048 })
const pem = privateKey.export({ type: 'pkcs8', format: 'pem' }).toString()
writeFileSync(keyFile, pem)
const signed = { DKIM_DOMAIN: 'example.com', DKIM_SELECTOR: 'bees', DKIM_KEY_FILE: keyFile }

// The zone of RFC 7208, appendix A.
const ZONE: Zone = {
  ...a('example.com', '192.0.2.10', '192.0.2.11'),
  ...mx('example.com', 'mail-a.example.com'),
  ...a('mail-a.example.com', '192.0.2.129'),
  ...mx('example.org', 'mail-c.example.org'),
  ...a('mail-c.example.org', '192.0.2.140'),
  ...a('amy.example.com', '192.0.2.65'),
}
let zone: Zone
let server: SimulatedDnsServer
beforeAll(async () => {
  server = await startDnsServer(() => zone)
})
afterAll(async () => {
  await server.close()
  rmSync(folder, { recursive: true })
})
beforeEach(() => {
  zone = ZONE
})

async function look(domain: string, over: Partial<Config> = {}) {
  const config = testConfig({ DATABASE_URL: 'postgres://localhost/none', ...over })
  const { standings } = await lookUpDomain(openDns(server.address), config, domain)
  return (kind: StandingKind) => {
    const found = standings.find((one) => one.kind === kind)
    if (!found) throw new Error(`Nothing was said of ${kind}`)
    return found
  }
}
const from = (host: string) => ({ SMTP_URL: `smtps://user:pass@${host}:465` })

describe('who may send', () => {
  // RFC 7208, appendix A.1: which servers each record lets send.
  test.each([
    ['v=spf1 a -all', 'example.com', 'mail-a.example.com'],
    ['v=spf1 mx -all', 'mail-a.example.com', 'mail-c.example.org'],
    ['v=spf1 mx mx:example.org -all', 'mail-c.example.org', 'amy.example.com'],
    ['v=spf1 ip4:192.0.2.128/28 -all', 'mail-a.example.com', 'amy.example.com'],
  ])('%s', async (record, may, mayNot) => {
    zone = { ...ZONE, ...txt('example.com', record) }
    expect((await look('example.com', from(may)))('spf').state).toBe('good')
    expect((await look('example.com', from(mayNot)))('spf').state).toBe('weak')
  })

  test('a record that lets everybody send, and one that needs more than ten look-ups, are wrong', async () => {
    zone = { ...ZONE, ...txt('example.com', 'v=spf1 +all') }
    expect((await look('example.com'))('spf').says).toContain('every server')
    const names = Array.from({ length: 11 }, (_, index) => `a:h${index}.example.com`)
    zone = { ...ZONE, ...txt('example.com', `v=spf1 ${names.join(' ')} -all`), ...Object.assign({}, ...names.map((name, index) => a(name.slice(2), `198.51.100.${index}`))) } // prettier-ignore
    expect((await look('example.com'))('spf')).toMatchObject({ state: 'wrong', says: expect.stringContaining('ten look-ups') }) // prettier-ignore
  })

  test('is looked up where bounces come back to', async () => {
    zone = { ...ZONE, ...txt('back.example.com', 'v=spf1 mx -all'), ...mx('back.example.com', 'mail-a.example.com') } // prettier-ignore
    expect((await look('example.com'))('spf').state).toBe('missing')
    const own = await look('example.com', { RETURN_PATH: 'bounces@back.example.com' })
    expect([own('spf').state, own('returnPath').state]).toEqual(['good', 'good'])
  })
})

test('the key that mail is signed with is compared with the one that everybody can read, however long', async () => {
  const name = 'bees._domainkey.example.com'
  expect((await look('example.com', signed))('dkim')).toMatchObject({ state: 'missing', record: { name } }) // prettier-ignore
  zone = { ...ZONE, ...txt(name, `v=DKIM1; k=rsa; p=${publicKeyOf(pem)}`) }
  expect((await look('example.com', signed))('dkim').state).toBe('good')
  expect((await look('news.example.com', signed))('dkim').state).toBe('good')
  expect((await look('other.example', signed))('dkim').state).toBe('weak')
  expect((await look('example.com'))('dkim').state).toBe('unknown')
})

test('what is asked for a domain is asked of the organization where it has nothing of its own', async () => {
  zone = { ...ZONE, ...txt('_dmarc.example.co.uk', 'v=DMARC1; p=reject') }
  expect((await look('news.example.co.uk'))('dmarc').state).toBe('good')
  expect((await look('example.org'))('dmarc').state).toBe('missing')
})

test('a name server that does not answer is said, and nothing is taken for missing', async () => {
  const found = await look('broken.example.com')
  for (const kind of ['spf', 'dmarc', 'returnPath'] as const) {
    expect(found(kind).state, kind).toBe('unknown')
  }
})
