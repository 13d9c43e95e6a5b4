import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { senderToken } from '../backend/addresses/index.ts'
import { findMail } from '../backend/mailbox/index.ts'
import { unsubscribeToken } from '../backend/messages/index.ts'
import { aDefinition, anEmail } from '../testing/builders.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { LINK_SECRET, SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
})
afterAll(() => api.close())

/** As the form of the page is sent by a browser. */
const agree = (url: string) =>
  api.app.inject({
    method: 'POST',
    url,
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    payload: '',
  })

const senders = async () =>
  (await api.call('GET', '/api/addresses'))
    .json<{ senders: { address: string; name: string; verified: boolean }[] }>()
    .senders.map(({ address, name, verified }) => `${name} ${address} ${verified}`)

test('the shop’s own sender becomes another only once that was confirmed; the one before stays', async () => {
  const shop = (await api.call('GET', '/api/shop')).json<object>()
  const change = (senderAddress: string, over = {}) =>
    api.call('PUT', '/api/shop', { ...shop, ...over, senderAddress })
  const refused = await change('nobody@combwright.example')
  expect([refused.statusCode, refused.json()]).toMatchObject([400, { problems: [{ path: 'senderAddress' }] }]) // prettier-ignore
  expect((await change('care@combwright.example', { zone: 'Europe/Lisbon', name: 'Combwright & Co' })).statusCode).toBe(204) // prettier-ignore
  expect((await senders())[0]).toBe('Combwright care@combwright.example true')
  expect((await senders()).slice(1)).toContain('Combwright hello@combwright.example true')
  expect((await api.call('GET', '/api/session')).json()).toMatchObject({ shop: { name: 'Combwright & Co', zone: 'Europe/Lisbon' } }) // prettier-ignore
  expect((await api.call('PUT', '/api/shop', shop, { who: 'aoife' })).statusCode).toBe(403)
  await api.call('PUT', '/api/shop', shop)
  await api.call('DELETE', '/api/senders/care@combwright.example')
  await api.world.db.execute(sql`insert into senders (shop_id, address, name, verified_at) values (${SHOP}, 'care@combwright.example', 'Tiago', 0)`)
}) // prettier-ignore

describe('a sender', () => {
  const NEW = 'Swarm@Combwright.example'
  let page = ''

  test('is written to, and counts for nothing until the link in that mail is agreed to', async () => {
    expect(
      (await api.call('POST', '/api/senders', { name: 'Swarm desk', address: NEW })).statusCode,
    ).toBe(204)
    expect(await senders()).toEqual([
      'Combwright hello@combwright.example true',
      'Tiago care@combwright.example true',
      'Maren maren@combwright.example true',
      'Swarm desk swarm@combwright.example false',
    ])
    const [mail] = await api.world.mails()
    expect(mail?.to).toBe('swarm@combwright.example')
    const { text } = await findMail(api.world.db, SHOP, mail?.id ?? 0)
    page = new URL(/http\S+/.exec(text)?.[0] ?? '').pathname
    const draft = aDefinition({
      steps: [anEmail('m', { sender: { name: 'Swarm desk', address: NEW } })],
    })
    await expect(api.world.publish(draft)).rejects.toMatchObject({
      problems: [{ path: 'sender-unknown' }],
    })
    // Looking at the page agrees to nothing: scanners open every link.
    const asked = await api.app.inject({ url: page })
    expect(asked.body).toContain('swarm@combwright.example')
    expect(await senders()).toContain('Swarm desk swarm@combwright.example false')
    expect((await agree(page)).body).toContain('is confirmed')
    expect(await senders()).toContain('Swarm desk swarm@combwright.example true')
    await api.world.publish(draft)
  })

  test('that is added again has its new name, and is not asked again', async () => {
    const before = (await api.world.mails()).length
    await api.call('POST', '/api/senders', { name: 'The swarm desk', address: NEW })
    expect(await senders()).toContain('The swarm desk swarm@combwright.example true')
    expect(await api.world.mails()).toHaveLength(before)
  })

  test('that is removed is confirmed by no old link', async () => {
    await api.call('DELETE', `/api/senders/${encodeURIComponent(NEW)}`)
    expect((await senders()).join()).not.toContain('swarm')
    const late = await agree(page)
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
    expect((await api.app.inject({ url: `/confirm-sender/${token}` })).statusCode).toBe(404)
    expect(
      (await api.app.inject({ method: 'POST', url: `/confirm-sender/${token}` })).statusCode,
    ).toBe(404)
  })

  test('the shop’s own needs nobody’s word; what is no address is refused', async () => {
    const own = await api.call('POST', '/api/senders', {
      name: 'X',
      address: 'Hello@combwright.example',
    })
    expect(own.statusCode).toBe(409)
    const none = await api.call('POST', '/api/senders', { name: 'X', address: 'nobody' })
    expect(none.statusCode).toBe(400)
    expect(none.json()).toMatchObject({ problems: [{ path: 'address' }] })
  })
})

test('only marketers change who may send, and who the staff are', async () => {
  const body = { name: 'X', addresses: [] }
  for (const answer of [
    await api.call('POST', '/api/senders', { name: 'X', address: 'x@y.example' }, { who: 'aoife' }),
    await api.call('DELETE', '/api/senders/maren@combwright.example', undefined, { who: 'aoife' }),
    await api.call('PUT', '/api/staff-groups/x', body, { who: 'aoife' }),
    await api.call('DELETE', '/api/staff-groups/x', undefined, { who: 'aoife' }),
  ]) {
    expect(answer.statusCode).toBe(403)
  }
})

test('a group of staff is made, changed and taken out', async () => {
  const groups = async () =>
    (await api.call('GET', '/api/addresses')).json<{
      groups: { name: string; addresses: string[] }[]
    }>().groups
  await api.call('PUT', '/api/staff-groups/care', {
    name: 'Care',
    addresses: ['a@combwright.example'],
  })
  await api.call('PUT', '/api/staff-groups/care', {
    name: 'Care team',
    addresses: ['b@combwright.example'],
  })
  expect(await groups()).toEqual([
    { key: 'care', name: 'Care team', addresses: ['b@combwright.example'] },
  ])
  const wrong = await api.call('PUT', '/api/staff-groups/care', {
    name: 'Care',
    addresses: ['b@c.example', 'nobody'],
  })
  expect(wrong.json()).toMatchObject({ problems: [{ path: 'addresses.1' }] })
  await api.call('DELETE', '/api/staff-groups/care')
  expect(await groups()).toEqual([])
})
