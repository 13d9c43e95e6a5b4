import { generateKeyPairSync } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { dkimVerify } from 'mailauth/lib/dkim/verify.js'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { startSmtpServer, type SimulatedSmtpServer } from '../../simulated/smtpServer.ts'
import { testConfig } from '../../testing/people.ts'
import { readDkim } from './dkim.ts'
import { smtpMailer } from './smtp.ts'

const folder = mkdtempSync(join(tmpdir(), 'yomble-dkim-'))
const { privateKey, publicKey } = generateKeyPairSync('rsa', { modulusLength: 2048 })
const keyFile = join(folder, 'key.pem')
writeFileSync(keyFile, privateKey.export({ type: 'pkcs8', format: 'pem' }))
const record = `v=DKIM1; k=rsa; p=${publicKey.export({ type: 'spki', format: 'der' }).toString('base64')}`
const keys = { DKIM_DOMAIN: 'combwright.example', DKIM_SELECTOR: 'bees', DKIM_KEY_FILE: keyFile }
const config = (over: object = keys) => testConfig({ DATABASE_URL: 'postgres://localhost/none', ...over }) // prettier-ignore

let smtp: SimulatedSmtpServer
let raw: Buffer
beforeAll(async () => {
  smtp = await startSmtpServer(async (mail) => {
    raw = mail.raw
  })
  const mailer = smtpMailer(`smtp://127.0.0.1:${smtp.port}`, { dkim: readDkim(config()) })
  await mailer.send({
    messageId: '<1@combwright.example>',
    date: 0,
    from: { name: 'Combwright', address: 'hello@combwright.example' },
    replyTo: null,
    to: ['ines@example.org'],
    copies: [],
    subject: 'Dëar Inês, a long subject that is folded because it has more than the characters of a line',
    text: 'Hello\n.\nworld  \n',
    html: '<p>Hello</p>',
    unsubscribeUrl: 'https://combwright.example/u/opaque',
  }) // prettier-ignore
  mailer.close()
})
afterAll(async () => {
  await smtp.close()
  rmSync(folder, { recursive: true })
})

/** What an independent verifier (mailauth) says of a mail. */
async function verified(mail: Buffer | string) {
  const resolver = (name: string) =>
    Promise.resolve(name === 'bees._domainkey.combwright.example' ? [[record]] : [])
  const { results } = await dkimVerify(mail, { resolver })
  return results[0]
}

describe('a mail signed with DKIM (RFC 6376), read by an independent verifier', () => {
  test('is from the domain', async () => {
    expect((await verified(raw))?.status.result).toBe('pass')
  })
  test('covers both headers of the one-click way out (RFC 8058 section 3.1)', async () => {
    const signed = /^DKIM-Signature:[\s\S]*?\bh=([\s\S]*?);/im.exec(raw.toString())?.[1] ?? ''
    const names = signed.replaceAll(/\s/g, '').toLowerCase().split(':')
    expect(names).toEqual(expect.arrayContaining(['list-unsubscribe', 'list-unsubscribe-post', 'from', 'subject'])) // prettier-ignore
  })
  test.each([
    ['another text', 'Hello', 'Hallo'],
    ['another way out', '/u/opaque', '/u/other'],
  ])('%s is found out', async (_what, from, to) => {
    expect((await verified(raw.toString().replace(from, to)))?.status.result).not.toBe('pass')
  })
})

describe('the key', () => {
  test('none is none; half of one, or what is none, says so', () => {
    expect(readDkim(config({}))).toBeNull()
    expect(() => readDkim(config({ ...keys, DKIM_SELECTOR: undefined }))).toThrow(/belong together/)
    expect(() => readDkim(config({ ...keys, DKIM_KEY_FILE: join(folder, 'none') }))).toThrow(/cannot be used/) // prettier-ignore
    const other = join(folder, 'ed25519.pem')
    const ed = generateKeyPairSync('ed25519').privateKey
    writeFileSync(other, ed.export({ type: 'pkcs8', format: 'pem' }))
    expect(() => readDkim(config({ ...keys, DKIM_KEY_FILE: other }))).toThrow(/ed25519/)
  })
})
