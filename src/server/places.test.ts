import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { createApiKey } from '../backend/accounts/index.ts'
import { AppError } from '../backend/platform/errors.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aCustomer, eventOf, START } from '../testing/builders.ts'
import { addShop, SHOP } from '../testing/world.ts'
import { Places } from './places.ts'

/** How many of so many get a place. */
const letIn = (places: Places, whose: string, count: number): number =>
  Array.from({ length: count }).filter(() => {
    try {
      places.take(whose)
      return true
    } catch (error) {
      expect(error).toBeInstanceOf(AppError)
      expect(error).toMatchObject({ code: 'too_many', retryAfterS: 2 })
      return false
    }
  }).length

describe('places', () => {
  test('one shop’s storm leaves room for others', () => {
    const places = new Places()
    expect(letIn(places, 'storm', 100)).toBe(16)
    expect(letIn(places, 'quiet', 100)).toBe(8)
    places.give('storm')
    expect(letIn(places, 'quiet', 100)).toBe(1)
    expect(letIn(places, 'storm', 1)).toBe(0)
  })
  test('whatever comes and goes, all have their places again at the end (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c'), fc.boolean())), (moves) => {
        const places = new Places()
        const inside: string[] = []
        for (const [whose, comes] of moves) {
          if (comes) inside.push(...Array<string>(letIn(places, whose, 1)).fill(whose))
          else if (inside.includes(whose)) {
            places.give(whose)
            inside.splice(inside.indexOf(whose), 1)
          }
        }
        for (const whose of inside) places.give(whose)
        expect([letIn(places, 'a', 100), letIn(places, 'b', 100)]).toEqual([16, 8])
      }),
    )
  })
})

describe('events that come faster than they can be taken in', () => {
  let api: Api
  const keys: Record<string, string> = {}
  beforeAll(async () => {
    api = await makeApi()
    await addShop(api.world.db, 'other')
    for (const shop of [SHOP, 'other']) keys[shop] = (await createApiKey(api.world.db, shop, 'tests')).key // prettier-ignore
  })
  afterAll(() => api.close())

  const post = (shop: string, id: number) =>
    api.app.inject({
      method: 'POST',
      url: '/v1/events',
      headers: { authorization: `Bearer ${keys[shop]}` },
      payload: { ...eventOf('customer.created', START, { customer: aCustomer({ id: `c${id}` }) }), id: `e${id}` }, // prettier-ignore
    })

  test('are refused with when to try again, while another shop’s are taken; sent again, they arrive', async () => {
    const storm = Array.from({ length: 60 }, (_, index) => post(SHOP, index))
    const other = post('other', 0)
    const answers = await Promise.all(storm)
    expect((await other).statusCode).toBe(200)
    expect(new Set(answers.map(({ statusCode }) => statusCode))).toEqual(new Set([200, 429]))
    expect(answers.filter(({ statusCode }) => statusCode === 200).length).toBeGreaterThanOrEqual(16)
    const refused = answers.flatMap((answer, index) => (answer.statusCode === 429 ? [{ answer, index }] : [])) // prettier-ignore
    expect(refused[0]?.answer.headers['retry-after']).toBe('2')
    expect(refused[0]?.answer.json()).toMatchObject({ code: 'too_many' })
    for (const { index } of refused) expect((await post(SHOP, index)).json()).toMatchObject({ accepted: 1 }) // prettier-ignore
  })
})
