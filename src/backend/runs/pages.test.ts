import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import {
  aDefinition,
  anEmail,
  orderEvent,
  START,
  thanksDefinition,
  wait,
} from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'
import { findMail, mailPage, rawMail } from '../mailbox/index.ts'
import { numbersOf, numbersOfAll } from '../workflows/index.ts'
import { ledgerPage, runPage } from './index.ts'

let world: World
let thanks: string
let marketing: string
/** A small month: three people, one refund, one without consent, one who bounces. */
beforeAll(async () => {
  world = await makeWorld()
  thanks = await world.publish(thanksDefinition())
  marketing = await world.publish(
    aDefinition({
      name: 'Advice',
      entry: { rule: { kind: 'once' }, overlap: 'allow' },
      steps: [
        wait('w', 'P1D'),
        anEmail('advice', { purpose: 'marketing' }),
        wait('w2', 'P30D'),
        anEmail('more', { purpose: 'marketing' }),
      ],
    }),
  )
  const order = (number: number, customerId: string) => ({
    id: `o${number}`,
    number: String(number),
    customerId,
  })
  await world.post(
    orderEvent('order.placed', START - 3 * MINUTE_MS, order(1, 'c1')),
    orderEvent('order.placed', START - 2 * MINUTE_MS, order(2, 'c2'), {
      firstName: 'Rui',
      lastName: null,
      email: 'rui_100%@example.org',
      emailConsent: false,
    }),
    orderEvent('order.placed', START - MINUTE_MS, order(3, 'c3'), {
      firstName: null,
      lastName: null,
      email: 'bounce@example.net',
    }),
  )
  await world.moveTo(START + 10 * MINUTE_MS)
  await world.post(orderEvent('order.refunded', START + 10 * MINUTE_MS, order(2, 'c2'), null))
  await world.moveTo(START + 2 * HOUR_MS)
  await world.post(orderEvent('order.placed', START + 2 * HOUR_MS, order(4, 'c1')))
  await world.moveTo(START + 3 * DAY_MS)
})
afterAll(() => world.close())

const page = async (filter: Partial<Parameters<typeof ledgerPage>[2]> = {}) =>
  ledgerPage(world.db, await world.shop(), { show: 'all', ...filter })
const words = async (filter: Parameters<typeof page>[0]) =>
  (await page(filter)).rows.map((row) => row.words)

describe('the ledger', () => {
  test('says what was sent, to whom, newest first', async () => {
    expect(await words({ show: 'sent' })).toEqual([
      'Sent “advice” to ines@example.org',
      'Sent “thanks2” to ines@example.org',
      'Sent “thanks1” to ines@example.org',
    ])
  })
  test('says what was not sent, and why', async () => {
    // The code stands beside the sentence, for programs that read it.
    const notSent = await page({ show: 'notSent' })
    expect(notSent.rows.every(({ kind, reason }) => kind !== 'skipped' || reason !== null)).toBe(
      true,
    )
    expect(notSent.rows.some(({ reason }) => reason !== null)).toBe(true)
    expect((await words({ show: 'notSent' })).toSorted()).toEqual([
      'Left before “thanks1”: order refunded on 14 April, 10:30',
      'Skipped “advice”: mail to this address came back',
      'Skipped “advice”: said no to marketing messages',
    ])
  })
  test('says who was turned away', async () => {
    expect(await words({ show: 'turnedAway' })).toEqual([
      'Turned away: entered before, on 14 April, 10:17, and may enter only once',
    ])
  })
  test('says what needs attention', async () => {
    expect(await words({ show: 'attention' })).toEqual([
      expect.stringMatching(/^Could not send “thanks1”: .*5\.1\.1/),
    ])
  })
  test('is searched by name, address and order number, taking % and _ as they are', async () => {
    const people = async (search: string) =>
      new Set((await page({ search })).rows.map(({ customer }) => customer.id))
    expect(await people('duarte')).toEqual(new Set(['c1']))
    expect(await people('rui_100%')).toEqual(new Set(['c2']))
    expect(await people('%')).toEqual(new Set(['c2']))
    expect((await page({ search: '4', show: 'sent' })).rows).toMatchObject([{ orderNumber: '4' }])
  })
  test('is filtered by workflow, and shown page by page without a gap', async () => {
    expect((await page({ workflow: marketing, show: 'sent' })).rows).toHaveLength(1)
    const all = (await page()).rows
    const rest = (await page({ before: all[4]?.id })).rows
    expect(rest).toEqual(all.slice(5))
    expect((await page()).more).toBe(false)
  })
})

describe('one run', () => {
  test('tells its story, with the mail that came of it', async () => {
    const [sent] = (await page({ show: 'sent', search: '1', workflow: thanks })).rows.toReversed()
    const run = await runPage(world.db, await world.shop(), sent?.runId ?? 0)
    expect(run).toMatchObject({
      workflow: { name: 'Personal thanks', version: 1 },
      customer: { name: 'Ines Duarte' },
      order: { number: '1', total: '€42.00', status: 'placed' },
      status: 'ended',
      outcome: 'completed',
    })
    expect(run.lines.map(({ words: line }) => line)).toEqual([
      'Entered, 3 minutes late',
      'Took the path “First order” (order placed on 14 April, 10:17)',
      'Waits until 14 April, 10:37',
      'Decided to send “thanks1”',
      'Reached the end',
      'Sent “thanks1” to ines@example.org',
    ])
    const mail = await findMail(world.db, SHOP, run.lines.at(-1)?.mailId ?? 0)
    expect(mail).toMatchObject({ subject: 'First: 1', runId: run.id, to: 'ines@example.org' })
  })
  test('that does not exist', async () => {
    await expect(runPage(world.db, await world.shop(), 999_999)).rejects.toMatchObject({
      code: 'not_found',
    })
  })
})

describe('the numbers', () => {
  test('of each workflow', async () => {
    const numbers = await numbersOfAll(world.db, SHOP, null)
    expect(numbers.get(thanks)).toEqual({
      inProgress: 0,
      entered: 4,
      turnedAway: 0,
      sent: 2,
      skipped: 0,
      left: 1,
      needAttention: 1,
      nextDueAt: null,
    })
    expect(numbers.get(marketing)).toMatchObject({
      inProgress: 3,
      entered: 3,
      turnedAway: 1,
      sent: 1,
      skipped: 2,
      needAttention: 0,
    })
    expect(numbers.get(marketing)?.nextDueAt).toBeGreaterThan(START + 30 * DAY_MS)
  })
  test('of each step, path and exclusion', async () => {
    const { steps, branches, exclusions } = await numbersOf(world.db, SHOP, thanks)
    expect(steps.find(({ step }) => step === 'thanks1')).toEqual({
      step: 'thanks1',
      waiting: 0,
      sent: 1,
      skipped: 0,
      left: 1,
      failed: 1,
      done: 0,
    })
    expect(branches.toSorted((a, b) => b.taken - a.taken)).toEqual([
      { step: 'split', branch: 'first', taken: 3 },
      { step: 'split', branch: 'second', taken: 1 },
    ])
    expect(exclusions).toEqual([{ exclusion: 'refunded', left: 1 }])
    const waiting = (await numbersOf(world.db, SHOP, marketing)).steps.find(
      ({ step }) => step === 'w2',
    )
    expect(waiting?.waiting).toBe(3)
  })
})

describe('the mailbox', () => {
  test('is searched, and paged', async () => {
    expect(await mailPage(world.db, SHOP, { search: 'advice' })).toMatchObject({ total: 0 })
    const all = await mailPage(world.db, SHOP, {})
    expect(all).toMatchObject({ total: 3, more: false })
    expect((await mailPage(world.db, SHOP, { before: all.mails[0]?.id })).mails).toEqual(
      all.mails.slice(1),
    )
  })
  test('gives the mail as it came over the wire', async () => {
    const [newest] = (await mailPage(world.db, SHOP, {})).mails
    const raw = (await rawMail(world.db, SHOP, newest?.id ?? 0)).toString()
    expect(raw).toMatch(/^Message-ID: </im)
    expect(raw).toMatch(/^List-Unsubscribe-Post: /im)
    await expect(rawMail(world.db, 'other-shop', newest?.id ?? 0)).rejects.toMatchObject({
      code: 'not_found',
    })
  })
})
