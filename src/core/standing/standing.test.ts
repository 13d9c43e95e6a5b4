import { describe, expect, test } from 'vitest'
import { dkimRecord, dkimStanding } from './dkimStanding.ts'
import { dmarcStanding } from './dmarcStanding.ts'
import { returnPathStanding } from './returnPathStanding.ts'
import { spfStanding, type SpfFacts } from './spfStanding.ts'

describe('what a domain asks of receivers (DMARC)', () => {
  const read = (own: string[], above: string[] | null = null) =>
    dmarcStanding({
      domain: 'mail.example.com',
      own,
      organization: above && { domain: 'example.com', texts: above },
    })

  // RFC 7489, appendices B.2.1 and B.2.4.
  test.each([
    ['v=DMARC1; p=none; rua=mailto:dmarc-feedback@example.com', /everything through/],
    ['v=DMARC1; p=quarantine; rua=mailto:dmarc-feedback@example.com,mailto:tld-test@thirdparty.example.net!10m; pct=25', /file as spam 25 of a hundred/],
  ])('%s', (record, says) => {
    expect(read([record])).toMatchObject({ state: 'good', says: expect.stringMatching(says) })
  }) // prettier-ignore

  test('that of the organization goes for what is under it, as it says for that', () => {
    expect(read([], ['v=DMARC1; p=reject; sp=none']).says).toMatch(/everything through/)
    expect(read([], ['v=DMARC1; p=reject']).says).toMatch(/refuse/)
    expect(read(['v=DMARC1; p=none'], ['v=DMARC1; p=reject']).says).toMatch(/everything through/)
  })

  test('none, two, or one without a policy: what to enter stands there', () => {
    const record = { name: '_dmarc.mail.example.com', type: 'TXT', value: 'v=DMARC1; p=none' }
    expect(read(['v=spf1 -all', 'v=DMARC10; p=none'])).toMatchObject({ state: 'missing', record })
    expect(read(['v=DMARC1; p=none', 'v=DMARC1; p=reject'])).toMatchObject({ state: 'wrong', record }) // prettier-ignore
    expect(read(['v=DMARC1; rua=mailto:a@b.example'])).toMatchObject({ state: 'wrong', record })
    expect(read(['v=DMARC1; p=refuse']).says).toContain('“refuse”')
  })
})

describe('the key of signatures (DKIM)', () => {
  // RFC 6376, appendix C: the key of “brisbane”.
  const publicKey = 'MIGfMA0GCSqGSIb3DQEBAQUAA4GNADCBiQKBgQDwIRP/UC3SBsEmGqZ9ZJW3/DkMoGeLnQg1fWn7/zYtIxN2SnFCjxOCKG9v3b4jYfcTNh5ijSsq631uBItLa7od+v/RtdC2UzJ1lWT947qR+Rcac2gbto/NMqJ0fzfVjH4OuKhitdY9tf6mcwGjaNBcWToIMmPSPDdQPNUYckcQ2QIDAQAB' // prettier-ignore
  const key = { domain: 'example.com', selector: 'brisbane', publicKey }
  const read = (texts: string[], isAligned = true) => dkimStanding(key, texts, { sender: 'example.com', isAligned }) // prettier-ignore

  test('is where receivers look for it', () => {
    expect(dkimRecord(key).name).toBe('brisbane._domainkey.example.com')
    expect(read([`v=DKIM1; p=${publicKey}`])).toMatchObject({ state: 'good', record: null })
    // Spaces may stand anywhere in it, and `v` may be left out (section 3.6.1).
    expect(read([`p=${publicKey.slice(0, 60)} ${publicKey.slice(60)}`]).state).toBe('good')
  })

  test.each([
    ['nothing there', [], 'missing', /nobody can check/],
    ['something else there', ['v=spf1 -all'], 'missing', /nobody can check/],
    ['taken back', ['v=DKIM1; p='], 'wrong', /taken back/],
    ['another key', ['v=DKIM1; p=MIGfMA0GCSqGSIb3DQEB'], 'wrong', /another/],
    ['two', [`p=${publicKey}`, `p=${publicKey}`], 'wrong', /several/],
    ['another version', [`v=DKIM2; p=${publicKey}`], 'wrong', /DKIM1/],
    ['a trial', [`v=DKIM1; t=s:y; p=${publicKey}`], 'weak', /trial/],
  ])('%s', (_name, texts, state, says) => {
    expect(read(texts)).toMatchObject({ state, says: expect.stringMatching(says) })
  })

  test('of another domain says nothing for the sender', () => {
    expect(read([`v=DKIM1; p=${publicKey}`], false)).toMatchObject({ state: 'weak', record: null })
  })
})

describe('who may send (SPF)', () => {
  const said = (result: string, comment = '') => ({ result, comment, lookups: 1 })
  const read = (over: Partial<SpfFacts>) =>
    spfStanding({
      domain: 'shop.example',
      texts: ['v=spf1 mx -all'],
      stranger: said('fail'),
      servers: [],
      host: 'smtp.shop.example',
      ...over,
    })

  test('the server may, others may not', () => {
    expect(read({ servers: [{ ip: '192.0.2.9', ...said('pass') }] }).state).toBe('good')
    expect(read({ host: '127.0.0.1' }).state).toBe('good')
  })

  test.each([
    ['no record', { texts: ['verification=1'], stranger: null }, 'missing', /Nothing says/],
    ['two', { texts: ['v=spf1 -all', 'v=spf1 mx -all'] }, 'wrong', /2 records/],
    ['eleven look-ups', { stranger: said('permerror', 'Too many DNS requests') }, 'wrong', /Too many DNS requests/],
    ['everybody may', { texts: ['v=spf1 +all'], stranger: said('pass') }, 'wrong', /every server/],
    ['nothing is said of others', { stranger: said('neutral') }, 'weak', /does not name/],
    ['no answer', { stranger: said('temperror') }, 'unknown', /did not answer/],
  ])('%s', (_name, over, state, says) => {
    expect(read(over)).toMatchObject({ state, says: expect.stringMatching(says) })
  }) // prettier-ignore

  test('a server that is not named: the record with it stands there', () => {
    const { state, record } = read({ servers: [{ ip: '192.0.2.9', ...said('fail') }] })
    expect([state, record?.value]).toEqual(['weak', 'v=spf1 a:smtp.shop.example mx -all'])
  })
})

describe('what comes back', () => {
  const read = (over: object) =>
    returnPathStanding({ domain: 'shop.example', hasOwn: true, exchanges: [{ exchange: 'mx.shop.example', priority: 10 }], hasAddress: false, ...over }) // prettier-ignore
  test.each([
    ['comes back', {}, 'good'],
    ['comes to the sender', { hasOwn: false }, 'weak'],
    ['comes to the address of the domain (RFC 5321 section 5.1)', { exchanges: [], hasAddress: true }, 'good'],
    ['is lost', { exchanges: [] }, 'wrong'],
    ['is refused (RFC 7505)', { exchanges: [{ exchange: '', priority: 0 }] }, 'wrong'],
  ])('%s', (_name, over, state) => {
    expect(read(over).state).toBe(state)
  }) // prettier-ignore
})
