import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { Webhook } from 'standardwebhooks'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { saveGroup } from '../../backend/addresses/index.ts'
import { saveShopRules } from '../../backend/shop/index.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import { formatInstant } from '../../core/shared/time.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { Step } from '../../core/workflow/steps.ts'
import {
  aCustomer,
  aDefinition,
  anEmail,
  at,
  end,
  happened,
  on,
  orderEvent,
  START,
  wait,
} from '../../testing/builders.ts'
import { makeWorld, SHOP, type World } from '../../testing/world.ts'

let world: World
let hook: Server | null = null
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(async () => {
  hook?.close()
  hook = null
  await world.close()
})

const kinds = async () => (await world.ledger()).map(({ kind }) => kind)
const sentAt = async () =>
  (await world.mails()).map(({ subject, date }) => `${formatInstant(date)} ${subject}`)
const marketing = (key: string, over: object = {}) =>
  anEmail(key, { subject: key, body: 'Hello', purpose: 'marketing', ...over })

describe('message gap and quiet hours', () => {
  test('marketing in the night is held until morning, and all gates are asked again', async () => {
    await saveShopRules(world.db, SHOP, {
      messageGap: null,
      quietHours: { from: '21:00', to: '08:00' },
    })
    await world.publish(
      aDefinition({
        exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
        steps: [marketing('advice'), anEmail('receipt', { subject: 'receipt' })],
      }),
    )
    const night = at('2026-04-14T22:30:00Z')
    await world.moveTo(night)
    await world.post(
      orderEvent('order.placed', night, { id: 'o1', number: '1', customerId: 'c1' }),
      orderEvent('order.placed', night, { id: 'o2', number: '2', customerId: 'c2' }),
    )
    await world.moveTo(night + HOUR_MS)
    await world.post(
      orderEvent(
        'order.refunded',
        night + HOUR_MS,
        { id: 'o2', number: '2', customerId: 'c2' },
        null,
      ),
    )
    await world.moveTo(night + DAY_MS)
    expect(await sentAt()).toEqual(['2026-04-15T07:00:00Z advice', '2026-04-15T07:00:00Z receipt'])
    expect((await world.ledger()).filter((one) => one.kind === 'waits')).toMatchObject([
      { step: 'advice', reason: { code: 'quietHours' }, until: at('2026-04-15T07:00:00Z') },
      { step: 'advice', reason: { code: 'quietHours' } },
    ])
  })

  test('two workflows do not both write to one person within the gap, whoever asks first', async () => {
    await saveShopRules(world.db, SHOP, { messageGap: 'P2D', quietHours: null })
    await world.publish(
      aDefinition({ priority: 90, steps: [wait('w', 'PT1H'), marketing('first')] }),
    )
    await world.publish(
      aDefinition({ priority: 50, steps: [wait('w', 'PT1H'), marketing('second')] }),
    )
    await world.publish(
      aDefinition({
        priority: 10,
        steps: [wait('w', 'PT1H'), marketing('third', { onGap: 'skip' })],
      }),
    )
    await world.post(orderEvent('order.placed', START))
    await world.moveTo(START + 10 * DAY_MS)
    expect(await sentAt()).toEqual(['2026-04-14T10:20:00Z first', '2026-04-16T10:20:00Z second'])
    expect((await world.ledger()).find((one) => one.kind === 'skipped')).toMatchObject({
      step: 'third',
      reason: { code: 'gap' },
    })
  })
})

describe('actions', () => {
  const coupon: Step = {
    key: 'coupon',
    kind: 'coupon',
    name: 'Second order',
    pattern: 'BEE-######',
    discount: { kind: 'percent', percent: 10 },
    expiresAfter: 'PT24H',
  }

  test('there are as many codes as mails that show one', async () => {
    const offer = anEmail('offer', { purpose: 'marketing', body: 'Code {{ coupon.code }}' })
    const again = anEmail('again', { purpose: 'marketing', body: 'Still: {{ coupon.code }}' })
    await world.publish(aDefinition({ steps: [coupon, offer, wait('w', 'P2D'), again] }))
    const order = (index: number, emailConsent: boolean | null) =>
      orderEvent('order.placed', START, { id: `o${index}`, customerId: `c${index}` }, { email: `c${index}@example.org`, emailConsent }) // prettier-ignore
    await world.post(order(1, true), order(2, null), order(3, true), order(4, false))
    await world.moveTo(START + 3 * DAY_MS)
    const { rows } = await world.db.execute(sql`select customer_id from coupons order by 1`)
    expect(rows).toEqual([{ customer_id: 'c1' }, { customer_id: 'c3' }])
    const codes = (await world.mails()).map(
      ({ snippet }) => /C-\w+|BEE-\w+|[A-Z]+-\w+/.exec(snippet)?.[0],
    )
    expect(new Set(codes).size).toBe(2)
    expect(codes).toHaveLength(4)
  })
  test('a coupon is a code of one’s own, printed in the messages after it', async () => {
    const body = 'Code {{ coupon.code }}, until {{ coupon.expires_on | default: "" }}'
    await world.publish(aDefinition({ steps: [coupon, anEmail('offer', { body })] }))
    await world.post(
      orderEvent('order.placed', START, { id: 'o1', customerId: 'c1' }),
      orderEvent('order.placed', START, { id: 'o2', customerId: 'c2' }),
    )
    const { rows } = await world.db.execute(sql`select code, expires_at from coupons order by code`)
    expect(rows).toHaveLength(2)
    expect(rows[0]).toMatchObject({ expires_at: START + DAY_MS })
    const texts = (await world.mails()).map(({ snippet }) => snippet).toSorted()
    expect(texts).toEqual(rows.map(({ code }) => `Code ${String(code)}, until 15 April, 10:20`))
    expect(new Set(rows.map(({ code }) => code)).size).toBe(2)
    expect(rows.every(({ code }) => /^BEE-[A-HJ-NP-Z2-9]{6}$/.test(String(code)))).toBe(true)
  })

  test('tags, lists and properties stay with the customer, and later steps and runs see them', async () => {
    const tagged: Condition = {
      kind: 'field',
      field: 'customer.tags',
      op: 'hasAny',
      value: ['keen'],
    }
    const steps: Step[] = [
      { key: 't', kind: 'tag', change: 'add', tag: 'keen' },
      { key: 'u', kind: 'tag', change: 'remove', tag: 'newcomer' },
      { key: 'l', kind: 'list', change: 'add', list: 'Beginners' },
      { key: 'p', kind: 'property', property: 'hives', value: '3' },
      anEmail('now', { subject: 'now', onlyIf: tagged }),
      wait('w', 'P1D'),
      anEmail('later', {
        subject: 'later',
        onlyIf: {
          kind: 'all',
          of: [
            tagged,
            {
              kind: 'not',
              of: { kind: 'field', field: 'customer.tags', op: 'hasAny', value: ['newcomer'] },
            },
            { kind: 'field', field: 'customer.lists', op: 'hasAny', value: ['Beginners'] },
            { kind: 'field', field: 'customer.property.hives', op: 'is', value: '3' },
          ],
        },
      }),
    ]
    await world.publish(aDefinition({ steps }))
    await world.post(orderEvent('order.placed', START, {}, { tags: ['newcomer', 'vip'] }))
    await world.moveTo(START + HOUR_MS)
    // The shop sends its own tags again: what workflows changed stays changed.
    await world.post(orderEvent('order.paid', START + HOUR_MS, {}, { tags: ['newcomer'] }))
    await world.moveTo(START + 2 * DAY_MS)
    expect((await world.mails()).map(({ subject }) => subject)).toEqual(['now', 'later'])
    const { rows } = await world.db.execute(
      sql`select tags, tag_changes, lists, properties from customers`,
    )
    expect(rows).toEqual([
      {
        tags: ['newcomer'],
        tag_changes: { keen: true, newcomer: false },
        lists: ['Beginners'],
        properties: { hives: '3' },
      },
    ])
  })

  test('a text message goes through the gateway, with a consent of its own', async () => {
    const sms: Step = {
      key: 's',
      kind: 'sms',
      name: 'Reminder',
      purpose: 'marketing',
      body: 'Order {{ order.number }}',
    }
    await world.publish(aDefinition({ steps: [sms] }))
    const order = (id: string, over: object) =>
      orderEvent('order.placed', START, { id, number: id, customerId: id }, over)
    await world.post(
      order('a', { phone: '+351912345678', smsConsent: true }),
      order('b', { phone: '+351912345679', smsConsent: false }),
      order('c', { phone: null, smsConsent: true }),
      order('d', { phone: '+351912340000', smsConsent: true }),
    )
    expect(world.texts).toMatchObject([{ to: '+351912345678', text: 'Order a' }])
    expect(
      (await world.ledger()).filter(({ kind }) => ['skipped', 'failed'].includes(kind)),
    ).toMatchObject([
      { kind: 'skipped', reason: { code: 'noConsent', known: true } },
      { kind: 'skipped', reason: { code: 'noAddress' } },
      { kind: 'failed', error: expect.stringContaining('no such number') as string },
    ])
  })

  test('a note goes to the staff, whatever the customer consented to; copies go along', async () => {
    const note: Step = {
      key: 'n',
      kind: 'note',
      name: 'Call them',
      to: ['tiago@combwright.example'],
      groups: ['care'],
      subject: 'Order {{ order.number }} is over 400',
      body: 'Call {{ customer.first_name | default: "them" }}.',
    }
    const founder = { key: 'founder', name: 'Founder', addresses: ['maren@combwright.example'] }
    const care = { key: 'care', name: 'Care', addresses: ['nobody@combwright.example'] }
    for (const group of [founder, care]) await saveGroup(world.db, SHOP, group)
    await world.publish(
      aDefinition({
        steps: [
          note,
          anEmail('m', { subject: 'thanks', copies: [], groups: ['founder'] }),
          { ...note, key: 'n2', subject: 'Again', to: [], groups: ['founder'] },
        ],
      }),
    )
    // Who is in a group counts when the message goes out, not when it was published.
    const staff = ['Tiago@combwright.example', 'aoife@combwright.example']
    await saveGroup(world.db, SHOP, { ...care, addresses: staff })
    await world.post(orderEvent('order.placed', START, {}, { emailConsent: false }))
    expect((await world.mails()).map(({ to, subject }) => `${to}: ${subject}`).toSorted()).toEqual([
      'aoife@combwright.example: Order 1001 is over 400',
      'ines@example.org: thanks',
      'maren@combwright.example: Again',
      'maren@combwright.example: thanks',
      'tiago@combwright.example: Order 1001 is over 400',
    ])
  })

  test('a hook is called once, signed as Standard Webhooks has it; exclusions keep it back', async () => {
    const calls: { headers: Record<string, string>; body: string }[] = []
    const server = createServer((request, response) => {
      let body = ''
      request.on('data', (chunk: Buffer) => (body += chunk.toString()))
      request.on('end', () => {
        calls.push({ headers: request.headers as Record<string, string>, body })
        response.writeHead(204).end()
      })
    })
    hook = server
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/yomble`
    await world.publish(
      aDefinition({
        exclusions: [{ key: 'paid', when: happened('order.paid'), effect: 'skip' }],
        steps: [
          { key: 'h', kind: 'hook', name: 'Ours', url },
          wait('w', 'PT1H'),
          { key: 'h2', kind: 'hook', name: 'Again', url },
          end('e'),
        ],
      }),
    )
    await world.post(orderEvent('order.placed', START))
    await world.moveTo(START + 10 * MINUTE_MS)
    await world.post(orderEvent('order.paid', START + 10 * MINUTE_MS))
    await world.moveTo(START + DAY_MS)
    expect(calls).toHaveLength(1)
    const { hookSecret } = await world.shop()
    const [call] = calls
    expect(() =>
      new Webhook(hookSecret ?? '').verify(call?.body ?? '', call?.headers ?? {}),
    ).not.toThrow()
    expect(JSON.parse(call?.body ?? '{}')).toMatchObject({
      data: { step: 'h', customer: { id: 'c1' } },
    })
    expect(await kinds()).toEqual(['entered', 'calls', 'waits', 'sent', 'skipped', 'ended'])
  })
})

describe('experiments', () => {
  test('everyone has an arm for good; a holdout gets nothing and goes on', async () => {
    const steps: Step[] = [
      {
        key: 'x',
        kind: 'experiment',
        name: 'Subject',
        lottery: 'subject-test',
        arms: [
          { key: 'a', name: 'A', weight: 45, steps: [anEmail('a1', { subject: 'A' })] },
          { key: 'b', name: 'B', weight: 45, steps: [anEmail('b1', { subject: 'B' })] },
          { key: 'h', name: 'Holdout', weight: 10, holdout: true, steps: [] },
        ],
      },
      anEmail('after', { subject: 'after' }),
    ]
    await world.publish(aDefinition({ steps }))
    const orders = Array.from({ length: 60 }, (_, index) =>
      orderEvent('order.placed', START - index, { id: `o${index}`, customerId: `c${index % 30}` }),
    )
    await world.post(...orders)
    const { rows } = await world.db.execute(sql`
      select customer_id, count(*) as runs, count(distinct entry->>'arm') as arms, min(entry->>'arm') as arm
      from ledger where kind = 'tookArm' group by customer_id`)
    expect(rows).toHaveLength(30)
    expect(rows.every((row) => row['runs'] === 2 && row['arms'] === 1)).toBe(true)
    expect(new Set(rows.map(({ arm }) => arm)).size).toBe(3)
    const subjects = (await world.mails()).length
    const held = rows.filter(({ arm }) => arm === 'h').length
    expect(subjects).toBe(Math.min(50, 60 + 60 - 2 * held))
  })
})

describe('runs per line', () => {
  test('one for each line that the filter holds for, with the fields of that line', async () => {
    await world.publish(
      aDefinition({
        trigger: on('order.placed', {
          per: 'line',
          filter: { kind: 'field', field: 'line.category', op: 'is', value: 'Classes' },
        }),
        steps: [anEmail('access', { subject: '{{ line.title }}' })],
      }),
    )
    const line = (title: string, category: string) => ({
      productId: title,
      title,
      category,
      quantity: 1,
      unitPriceMinor: 100,
    })
    await world.post(
      orderEvent('order.placed', START, {
        lines: [
          line('Swarm evening', 'Classes'),
          line('Bee brush', 'Tools'),
          line('Judging', 'Classes'),
        ],
      }),
      orderEvent('order.placed', START, { id: 'o2', lines: [line('Bee brush', 'Tools')] }),
    )
    expect((await world.mails()).map(({ subject }) => subject)).toEqual([
      'Swarm evening',
      'Judging',
    ])
    expect((await world.ledger()).filter(({ kind }) => kind === 'turnedAway')).toHaveLength(1)
  })
})

test('conditions on other workflows and on messages: a hand-over from one to the other', async () => {
  const recovery = await world.publish(
    aDefinition({
      trigger: on('order.payment_failed'),
      steps: [marketing('pay'), wait('w', 'P7D')],
    }),
  )
  await world.publish(
    aDefinition({
      exclusions: [
        {
          key: 'in-recovery',
          when: { kind: 'workflows', workflow: recovery, state: 'isIn', window: { kind: 'ever' } },
          effect: 'skip',
        },
      ],
      steps: [
        wait('w', 'P1D'),
        marketing('advice'),
        wait('w2', 'P14D'),
        marketing('last', {
          onlyIf: {
            kind: 'messages',
            did: 'got',
            workflow: recovery,
            step: 'pay',
            window: { kind: 'lastDays', days: 30 },
          },
        }),
      ],
    }),
  )
  await world.post(orderEvent('order.placed', START), orderEvent('order.payment_failed', START))
  await world.moveTo(START + 30 * DAY_MS)
  expect((await world.mails()).map(({ subject }) => subject)).toEqual(['pay', 'last'])
  expect(aCustomer().id).toBe('c1')
})
