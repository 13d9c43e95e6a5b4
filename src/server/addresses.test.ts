import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { senderToken } from '../backend/addresses/index.ts'
import { findMail } from '../backend/mailbox/index.ts'
import { unsubscribeToken } from '../backend/messages/index.ts'
import { makeLog } from '../backend/platform/log.ts'
import { aDefinition, anEmail } from '../testing/builders.ts'
import { addPeople, PASSWORD, testConfig } from '../testing/people.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../testing/world.ts'
import { buildApp } from './app.ts'
import type { App } from './context.ts'

const ORIGIN = 'http://localhost:8080'
let world: World
let app: App
const cookies = { maren: '', aoife: '' }

beforeAll(async () => {
  world = await makeWorld()
  await addPeople(world.db)
  const config = testConfig({ DATABASE_URL: world.url, PORT: 8080, SMTP_URL: world.smtpUrl })
  app = await buildApp({ db: world.db, config, publicUrl: ORIGIN, log: makeLog('silent') })
  for (const name of ['maren', 'aoife'] as const) {
    const answer = await app.inject({
      method: 'POST',
      url: '/api/session',
      headers: { origin: ORIGIN },
      payload: { email: `${name}@combwright.example`, password: PASSWORD },
    })
    cookies[name] = String(answer.headers['set-cookie']).split(';')[0] ?? ''
  }
})
afterAll(async () => {
  await app.close()
  await world.close()
})

type Method = 'GET' | 'POST' | 'PUT' | 'DELETE'
const call = (method: Method, url: string, payload?: object, who: keyof typeof cookies = 'maren') =>
  app.inject({
    method,
    url,
    headers: { origin: ORIGIN, cookie: cookies[who] },
    ...(payload && { payload }),
  })

const senders = async () =>
  (await call('GET', '/api/addresses'))
    .json<{ senders: { address: string; name: string; verified: boolean }[] }>()
    .senders.map(({ address, name, verified }) => `${name} ${address} ${verified}`)

describe('a sender', () => {
  const NEW = 'Swarm@Combwright.example'
  let page = ''

  test('is written to, and counts for nothing until the link in that mail is agreed to', async () => {
    expect(
      (await call('POST', '/api/senders', { name: 'Swarm desk', address: NEW })).statusCode,
    ).toBe(204)
    expect(await senders()).toEqual([
      'Combwright hello@combwright.example true',
      'Tiago care@combwright.example true',
      'Maren maren@combwright.example true',
      'Swarm desk swarm@combwright.example false',
    ])
    const [mail] = await world.mails()
    expect(mail?.to).toBe('swarm@combwright.example')
    const { text } = await findMail(world.db, SHOP, mail?.id ?? 0)
    page = new URL(/http\S+/.exec(text)?.[0] ?? '').pathname
    const draft = aDefinition({
      steps: [anEmail('m', { sender: { name: 'Swarm desk', address: NEW } })],
    })
    await expect(world.publish(draft)).rejects.toMatchObject({
      problems: [{ path: 'sender-unknown' }],
    })
    // Looking at the page agrees to nothing: scanners open every link.
    const asked = await app.inject({ url: page })
    expect(asked.body).toContain('swarm@combwright.example')
    expect(await senders()).toContain('Swarm desk swarm@combwright.example false')
    expect((await app.inject({ method: 'POST', url: page })).body).toContain('is confirmed')
    expect(await senders()).toContain('Swarm desk swarm@combwright.example true')
    await world.publish(draft)
  })

  test('that is added again has its new name, and is not asked again', async () => {
    const before = (await world.mails()).length
    await call('POST', '/api/senders', { name: 'The swarm desk', address: NEW })
    expect(await senders()).toContain('The swarm desk swarm@combwright.example true')
    expect(await world.mails()).toHaveLength(before)
  })

  test('that is removed is confirmed by no old link', async () => {
    await call('DELETE', `/api/senders/${encodeURIComponent(NEW)}`)
    expect((await senders()).join()).not.toContain('swarm')
    const late = await app.inject({ method: 'POST', url: page })
    expect(late.statusCode).toBe(404)
    expect((await senders()).join()).not.toContain('swarm')
  })

  test.each([
    [
      'another secret',
      senderToken('another secret of some length', { shopId: SHOP, address: 'x@y.example' }),
    ],
    [
      'made for something else',
      unsubscribeToken(LINK_SECRET, { shopId: SHOP, customerId: 'x@y.example' }),
    ],
    ['nonsense', 'a.b'],
    ['nothing signed', 'W10'],
  ])('a link that is not ours (%s) leads nowhere', async (_what, token) => {
    expect((await app.inject({ url: `/confirm-sender/${token}` })).statusCode).toBe(404)
    expect((await app.inject({ method: 'POST', url: `/confirm-sender/${token}` })).statusCode).toBe(
      404,
    )
  })

  test('the shop’s own needs nobody’s word; what is no address is refused', async () => {
    const own = await call('POST', '/api/senders', {
      name: 'X',
      address: 'Hello@combwright.example',
    })
    expect(own.statusCode).toBe(409)
    const none = await call('POST', '/api/senders', { name: 'X', address: 'nobody' })
    expect(none.statusCode).toBe(400)
    expect(none.json()).toMatchObject({ problems: [{ path: 'address' }] })
  })
})

test('only marketers change who may send, and who the staff are', async () => {
  const body = { name: 'X', addresses: [] }
  for (const answer of [
    await call('POST', '/api/senders', { name: 'X', address: 'x@y.example' }, 'aoife'),
    await call('DELETE', '/api/senders/maren@combwright.example', undefined, 'aoife'),
    await call('PUT', '/api/staff-groups/x', body, 'aoife'),
    await call('DELETE', '/api/staff-groups/x', undefined, 'aoife'),
  ]) {
    expect(answer.statusCode).toBe(403)
  }
})

test('a group of staff is made, changed and taken out', async () => {
  const groups = async () =>
    (await call('GET', '/api/addresses')).json<{
      groups: { name: string; addresses: string[] }[]
    }>().groups
  await call('PUT', '/api/staff-groups/care', { name: 'Care', addresses: ['a@combwright.example'] })
  await call('PUT', '/api/staff-groups/care', {
    name: 'Care team',
    addresses: ['b@combwright.example'],
  })
  expect(await groups()).toEqual([
    { key: 'care', name: 'Care team', addresses: ['b@combwright.example'] },
  ])
  const wrong = await call('PUT', '/api/staff-groups/care', {
    name: 'Care',
    addresses: ['b@c.example', 'nobody'],
  })
  expect(wrong.json()).toMatchObject({ problems: [{ path: 'addresses.1' }] })
  await call('DELETE', '/api/staff-groups/care')
  expect(await groups()).toEqual([])
})
