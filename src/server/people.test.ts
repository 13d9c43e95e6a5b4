import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import {
  peopleSort,
  type PeopleQuery,
  type PersonResponse,
  type TimelineLine,
} from '../contract/people.ts'
import type { Step } from '../core/workflow/steps.ts'
import type { Condition } from '../core/conditions/condition.ts'
import { DAY_MS } from '../core/shared/duration.ts'
import { aCustomer, aDefinition, anEmail, anOrder, eventOf, on, ordersEver, START, wait } from '../testing/builders.ts' // prettier-ignore
import { readClock } from '../backend/shop/index.ts'
import { SHOP } from '../testing/world.ts'
import { makeApi, type Api } from '../testing/api.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
  const { world } = api
  for (let n = 0; n < 130; n += 1) {
    const customer = aCustomer({ id: `p${n}`, email: `p${n}@example.org`, firstName: 'Ada', lastName: `Number ${String(n).padStart(3, '0')}`, phone: n === 7 ? '+351 912 345 678' : null, emailConsent: true, tags: n % 10 === 0 ? ['club'] : [] }) // prettier-ignore
    const order = anOrder({ id: `o${n}`, number: `77${n}`, customerId: customer.id })
    await world.post(eventOf('order.placed', START - n * DAY_MS, { order, customer }))
  }
  await world.settle()
})
afterAll(() => api.close())

const search = async (query: PeopleQuery) =>
  (await api.call('POST', '/api/people/search', query)).json<{ people: { id: string }[]; after: string | null }>() // prettier-ignore
const personOf = async (id: string) =>
  (await api.call('GET', `/api/people/${id}`)).json<PersonResponse>()
const linesOf = async (id: string, show = 'all') =>
  (await api.call('GET', `/api/people/${id}/timeline?show=${show}`)).json<{ lines: TimelineLine[] }>().lines // prettier-ignore
const act = (id: string, body: object, who: 'maren' | 'aoife' = 'maren') =>
  api.call('POST', `/api/people/${id}/acts`, body, { who })

const club: Condition = { kind: 'field', field: 'customer.tags', op: 'hasAny', value: ['club'] }

describe('people are found', () => {
  test('by part of a name, an address, a phone however it is written, an order number', async () => {
    const found = async (text: string) => (await search({ search: text })).people.map(({ id }) => id)
    expect(await found('number 042')).toEqual(['p42'])
    expect(await found('p42@ex')).toEqual(['p42'])
    expect(await found('0351 912 345')).toEqual(['p7'])
    expect(await found('77128')).toEqual(['p128'])
    expect(await found('100%')).toEqual([])
  }) // prettier-ignore

  test('page by page, each once, in each order', async () => {
    for (const sort of peopleSort.options) {
      for (const condition of [null, club]) {
        const seen: string[] = []
        let after: string | null = null
        do {
          const page: Awaited<ReturnType<typeof search>> = await search({ sort, condition, after })
          seen.push(...page.people.map(({ id }) => id))
          after = page.after
        } while (after !== null)
        expect(new Set(seen).size).toBe(seen.length)
        expect(seen.length).toBe(condition === null ? 130 : 13)
      }
    }
  })

  test('who ordered most often and who spent most stand first', async () => {
    const orders = ['p9', 'p11', 'p11'].map((customerId, index) =>
      anOrder({ id: `b${index}`, number: `B${index}`, customerId, totalMinor: index === 0 ? 999_900 : 100 }),
    ) // prettier-ignore
    await api.world.post(...orders.map((order) => eventOf('order.placed', START, { order })))
    const first = async (sort: PeopleQuery['sort']) => (await search({ sort })).people[0]
    expect(await first('spent')).toMatchObject({ id: 'p9' })
    expect(await first('orders')).toMatchObject({ id: 'p11', orders: 3 })
  })

  test('by the language of conditions, with the past; counted', async () => {
    const twice: Condition = { kind: 'all', of: [club, ordersEver(1)] }
    const count = await api.call('POST', '/api/people/count', { condition: twice })
    expect(count.json()).toEqual({ of: 130, looked: 130, held: 13 })
  })

  test('what is about a workflow or an order is refused with its reason', async () => {
    const condition: Condition = { kind: 'field', field: 'order.total', op: 'gte', value: { amountMinor: 1, currency: 'EUR' } } // prettier-ignore
    const answer = await api.call('POST', '/api/people/count', { condition })
    expect(answer.statusCode).toBe(400)
    expect(answer.body).toContain('people by themselves')
    const odd = await api.call('POST', '/api/people/search', { after: 'nonsense' })
    expect(odd.statusCode).toBe(400)
  })
})

test('people as a file: all of them, formulas inert, whom a condition is about', async () => {
  const formula = aCustomer({
    id: 'f1',
    email: 'f1@example.org',
    firstName: '=1+1',
    lastName: null,
  })
  await api.world.post(eventOf('customer.created', START, { customer: formula }))
  const csv = (await api.call('GET', '/api/people-file')).body
  expect(csv.trim().split('\n')).toHaveLength(132)
  expect(csv).toContain("'=1+1")
  const condition = encodeURIComponent(JSON.stringify(club))
  const lines = (await api.call('GET', `/api/people-file?format=jsonl&condition=${condition}`)).body.trim().split('\n') // prettier-ignore
  expect(lines).toHaveLength(13)
  expect(JSON.parse(lines[0] ?? '')).toMatchObject({ currency: 'EUR', tags: 'club' })
  expect((await api.call('GET', '/api/people-file?condition=nonsense')).statusCode).toBe(400)
  await api.call('POST', '/api/people/f1/erase', { id: 'f1' })
})

test('a segment is kept under a name of its own, held against people, changed, forgotten', async () => {
  const body = { name: 'The club', condition: club }
  const { id } = (await api.call('POST', '/api/segments', body)).json<{ id: string }>()
  expect((await api.call('POST', '/api/segments', { ...body, name: 'the CLUB' })).statusCode).toBe(409) // prettier-ignore
  expect((await personOf('p10')).segments).toEqual([{ id, name: 'The club' }])
  expect((await personOf('p11')).segments).toEqual([])
  expect((await api.call('PUT', `/api/segments/${id}`, { ...body, name: 'Club' })).statusCode).toBe(204) // prettier-ignore
  expect((await api.call('POST', '/api/segments', body, { who: 'aoife' })).statusCode).toBe(403)
  expect((await api.call('DELETE', `/api/segments/${id}`)).statusCode).toBe(204)
  expect((await api.call('DELETE', `/api/segments/${id}`)).statusCode).toBe(404)
})

describe('what is done to people', () => {
  test('stands in the ledger and on their time line, with who did it', async () => {
    expect((await act('p1', { did: 'tag', name: 'fair 2026', change: 'add' })).statusCode).toBe(204)
    expect((await act('p1', { did: 'tag', name: 'fair 2026', change: 'add' })).statusCode).toBe(409)
    expect((await act('p1', { did: 'list', name: 'letters', change: 'add' })).statusCode).toBe(204)
    expect((await act('p1', { did: 'list', name: 'letters', change: 'add' }, 'aoife')).statusCode).toBe(403) // prettier-ignore
    const person = await personOf('p1')
    expect([person.tags, person.lists]).toEqual([['fair 2026'], ['letters']])
    expect((await linesOf('p1', 'acts')).map(({ words }) => words)).toEqual([
      'Maren put them on the list “letters”',
      'Maren put the tag “fair 2026” on them',
    ])
    expect(person.labelled.map(({ kind, name, by }) => [kind, name, by])).toEqual([
      ['list', 'letters', 'Maren'],
      ['tag', 'fair 2026', 'Maren'],
    ])
    const ledger = await api.call('GET', '/api/ledger?show=acts')
    expect(ledger.json<{ rows: { workflow: null }[] }>().rows[0]?.workflow).toBeNull()
  })

  test('a consent is their own word, with how they said it', async () => {
    const said = await act('p2', { did: 'consent', channel: 'email', given: false, how: 'on the phone' }) // prettier-ignore
    expect(said.statusCode).toBe(204)
    const [email] = (await personOf('p2')).consents
    expect(email).toMatchObject({ may: false, recorded: true, said: { given: false, how: 'on the phone (Maren)' } }) // prettier-ignore
    expect((await act('p2', { did: 'consent', channel: 'email', given: true, how: '' })).statusCode).toBe(400) // prettier-ignore
    expect((await act('nobody', { did: 'consent', channel: 'email', given: true, how: 'so' })).statusCode).toBe(404) // prettier-ignore
  })

  test('many at once, named or asked for', async () => {
    const body = { kind: 'list', name: 'autumn', change: 'add', people: ['p3', 'P4@example.org', 'who?'] } // prettier-ignore
    expect((await api.call('POST', '/api/labels', body)).json()).toEqual({ changed: 2, unknown: ['who?'] }) // prettier-ignore
    const all = { ...body, people: { search: '', condition: club } }
    expect((await api.call('POST', '/api/labels', all)).json()).toEqual({ changed: 13, unknown: [] }) // prettier-ignore
    const lists = await api.call('GET', '/api/labels?kind=list')
    expect(lists.json()).toContainEqual({ name: 'autumn', people: 15 })
  })
})

const mailsTo = async (id: string) =>
  (await api.world.mails()).filter(({ to }) => to === `${id}@example.org`)

describe('in workflows', () => {
  const series = aDefinition({
    trigger: on('checkout.started'),
    steps: [
      wait('first', 'P3D'),
      anEmail('hello', { subject: 'Hello', purpose: 'marketing', onGap: 'hold' }),
      wait('then', 'P3D'),
      anEmail('again', { subject: 'Again', purpose: 'marketing', onGap: 'hold' }),
    ],
  })
  const starts = (id: string) => {
    const checkout = { id: `k-${id}`, customerId: id, currency: 'EUR', totalMinor: 900, lines: anOrder().lines } // prettier-ignore
    return api.world.post(eventOf('checkout.started', START, { checkout }))
  }

  test('a wait is ended, somebody taken out; nothing more comes of it', async () => {
    await api.world.publish(series)
    await starts('p20')
    await api.world.settle()
    const [run] = (await personOf('p20')).runs
    expect(run).toMatchObject({ waits: true })
    expect((await api.call('POST', `/api/runs/${run?.id}/acts`, { did: 'endWait' })).statusCode).toBe(204) // prettier-ignore
    await api.world.settle()
    expect(await mailsTo('p20')).toHaveLength(1)
    expect((await api.call('POST', `/api/runs/${run?.id}/acts`, { did: 'takeOut' })).statusCode).toBe(204) // prettier-ignore
    expect((await api.call('POST', `/api/runs/${run?.id}/acts`, { did: 'takeOut' })).statusCode).toBe(409) // prettier-ignore
    expect((await personOf('p20')).runs).toEqual([])
    expect((await linesOf('p20', 'acts')).map(({ words }) => words)).toEqual([
      'Taken out by Maren',
      'Maren ended the wait',
      'Maren put them on the list “autumn”',
    ])
  })

  test('quiet holds marketing back until its day, or until it is ended', async () => {
    await starts('p21')
    await api.world.settle()
    await act('p21', { did: 'quiet', until: START + 10 * DAY_MS })
    await api.world.moveTo(START + 4 * DAY_MS)
    expect(await mailsTo('p21')).toHaveLength(0)
    expect((await linesOf('p21'))[0]?.words).toContain('somebody asked for quiet')
    await act('p21', { did: 'quiet', until: null })
    await api.world.settle()
    expect(await mailsTo('p21')).toHaveLength(1)
  })

  test('of several that a cap holds back the workflow of the highest priority goes first', async () => {
    const rules = { messageGap: null, quietHours: null, caps: [{ channel: 'all', most: 1, days: 3 }] } // prettier-ignore
    expect((await api.call('PUT', '/api/shop-rules', rules)).statusCode).toBe(204)
    const one = (name: string, priority: number) =>
      aDefinition({
        name,
        priority,
        trigger: on('review.submitted'),
        steps: [anEmail('mail', { purpose: 'marketing', onGap: 'hold', subject: name })],
      })
    for (const [name, priority] of [['Low', 0], ['Late', 0], ['High', 5]] as const) await api.world.publish(one(name, priority)) // prettier-ignore
    const { now } = await readClock(api.world.db, SHOP)
    const review = { id: 'r1', customerId: 'p30', productId: 'x', title: 'X', stars: 5 }
    await api.world.post(eventOf('review.submitted', now, { review }))
    const subjects = async () => (await mailsTo('p30')).map(({ subject }) => subject)
    expect(await subjects()).toEqual(['High'])
    await api.world.moveTo(now + 3 * DAY_MS)
    expect(await subjects()).toEqual(['High', 'Low'])
    await api.world.moveTo(now + 6 * DAY_MS)
    expect(await subjects()).toEqual(['High', 'Low', 'Late'])
    const held = (await linesOf('p30')).filter(({ kind }) => kind === 'waits')
    expect(held.map(({ words }) => words)).toEqual([
      expect.stringContaining(
        'a message of “Low” went first, by its priority; they have had 1 marketing message in 3 days',
      ),
      expect.stringContaining('a message of “High” went first'),
      expect.stringContaining('a message of “High” went first'),
    ])
  })
})

test('everybody in a segment is put into a workflow for customers, so many an hour; another kind is refused', async () => {
  const made = (await api.call('POST', '/api/segments', { name: 'Put in', condition: club })).json<{ id: string }>()
  const { world } = api
  const id = await world.publish(aDefinition({ name: 'By hand', trigger: { kind: 'hand', subject: 'customer' }, steps: [anEmail('hello', { subject: 'Hello' })] }))
  const put = (workflow: string, segment = made.id) => api.call('POST', `/api/workflows/${workflow}/put-in`, { segment, perHour: 6 })
  expect((await put(id)).json()).toEqual({ people: 13 })
  await world.settle()
  const intake = async () => (await api.call('GET', `/api/workflows/${id}/intakes`)).json<{ entered: number }[]>()[0]
  expect((await intake())?.entered).toBe(1)
  const { now } = await readClock(world.db, SHOP)
  await world.moveTo(now + 3 * 60 * 60 * 1000)
  expect((await intake())?.entered).toBe(13)
  expect((await put(id, 'none')).statusCode).toBe(404)
  const orders = await world.publish(aDefinition({ name: 'Orders', trigger: on('order.placed') }))
  expect((await put(orders)).statusCode).toBe(409)
  await api.call('DELETE', `/api/segments/${made.id}`)
}) // prettier-ignore

test('a segment in a workflow asks what it asked when it was taken over', async () => {
  const inClub: Condition = { kind: 'segment', segment: 's-1', name: 'Club', of: club }
  const trigger = on('customer.created', { filter: inClub })
  const id = await api.world.publish(aDefinition({ name: 'Only the club', trigger, steps: [anEmail('hello', { subject: 'Hello' })] }))
  const { now } = await readClock(api.world.db, SHOP)
  for (const [one, tags] of [['seg-1', ['club']], ['seg-2', []]] as const)
    await api.world.post(eventOf('customer.created', now, { customer: aCustomer({ id: one, email: `${one}@example.org`, tags: [...tags] }) }))
  await api.world.settle()
  const { rows } = (await api.call('GET', `/api/ledger?workflow=${id}`)).json<{ rows: { kind: string; customer: { id: string } }[] }>()
  expect(rows.filter(({ customer }) => customer.id === 'seg-1').map(({ kind }) => kind)).toContain('entered')
  expect(rows.filter(({ customer }) => customer.id === 'seg-2').map(({ kind }) => kind)).not.toContain('entered')
}) // prettier-ignore

test('since when somebody is on a list is known of workflows too, and no more once they are off it', async () => {
  const { world } = api
  const { now } = await readClock(world.db, SHOP)
  const steps: Step[] = [{ key: 'put', kind: 'list', list: 'Buyers', change: 'add' }]
  await world.publish(aDefinition({ name: 'Puts on lists', trigger: on('order.paid'), steps }))
  const customer = aCustomer({ id: 'on-list', email: 'on-list@example.org' })
  await world.post(eventOf('order.paid', now, { order: anOrder({ id: 'ol-1', customerId: customer.id }), customer })) // prettier-ignore
  await world.settle()
  expect((await personOf('on-list')).labelled).toEqual([{ kind: 'list', name: 'Buyers', at: now, by: 'Puts on lists' }]) // prettier-ignore
  await act('on-list', { did: 'list', name: 'Buyers', change: 'remove' })
  expect((await personOf('on-list')).labelled).toEqual([])
})

test('people are held out among those who are in a segment now', async () => {
  const made = await api.call('POST', '/api/segments', { name: 'Club', condition: club })
  const { id: segment } = made.json<{ id: string }>()
  const rules = { messageGap: null, quietHours: null, backOfficeUrl: null, holdoutPercent: 10 }
  const saved = await api.call('PUT', '/api/shop-rules', { ...rules, holdoutAmong: { segment } })
  expect(saved.statusCode).toBe(204)
  const standing = (await api.call('GET', '/api/shop-rules')).json<{ holdoutAmong: { list: string } }>()
  const { list } = standing.holdoutAmong
  expect(list).toMatch(/^Club, \d{4}-\d\d-\d\d \d\d:\d\d$/)
  expect((await api.call('GET', '/api/labels?kind=list')).json()).toContainEqual({ name: list, people: 14 })
  // Rules that say nothing of it leave it as it is; everybody again is said.
  await api.call('PUT', '/api/shop-rules', rules)
  expect((await api.call('GET', '/api/shop-rules')).json()).toMatchObject({ holdoutPercent: 10, holdoutAmong: { list } })
  await api.call('PUT', '/api/shop-rules', { ...rules, holdoutAmong: null })
  expect((await api.call('GET', '/api/shop-rules')).json()).toMatchObject({ holdoutAmong: null })
  await api.call('PUT', '/api/shop-rules', { ...rules, holdoutPercent: null })
}) // prettier-ignore
