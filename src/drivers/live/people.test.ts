import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { sql } from 'drizzle-orm'
import { readReport } from '../../backend/messages/index.ts'
import { attentionList } from '../../backend/runs/index.ts'
import { ingestEvents } from '../../backend/shop/index.ts'
import { goLive, retireWorkflow, saveDraft } from '../../backend/workflows/index.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import {
  aDefinition,
  anEmail,
  aSubscription,
  eventOf,
  on,
  orderEvent,
  START,
  wait,
} from '../../testing/builders.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../../testing/world.ts'
import { enterByHand } from './enterByHand.ts'
import { moveToLiveVersion } from './bulk/moveToLiveVersion.ts'
import { repairMessage } from './repair.ts'

let world: World
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(() => world.close())

const subjects = async () => (await world.mails()).map(({ subject }) => subject)
const kinds = async () => (await world.ledger()).map(({ kind }) => kind)
const mail = (key: string, over: object = {}) =>
  anEmail(key, { subject: key, body: 'Hello', ...over })

async function publishAgain(id: string, revision: number, definition: Definition): Promise<void> {
  await saveDraft(world.db, SHOP, id, revision, definition)
  await goLive(world.db, SHOP, id, revision + 1, 'tester')
}

describe('by hand', () => {
  const hand = (id: string, names: string[], override = false) =>
    enterByHand(world.db, world.programs, SHOP, id, { names, person: 'Maren', override })

  test('orders by their numbers; the entry rule holds unless it is overridden, and the ledger says so', async () => {
    const id = await world.publish(
      aDefinition({ entry: { rule: { kind: 'once' }, overlap: 'allow' }, steps: [mail('m')] }),
    )
    await world.post(orderEvent('order.placed', START, { id: 'o1', number: '1001' }))
    await world.moveTo(START + DAY_MS)
    expect(await hand(id, ['1001'])).toEqual({ entered: 0, turnedAway: 1 })
    expect(await hand(id, ['1001'], true)).toEqual({ entered: 1, turnedAway: 0 })
    await world.settle()
    expect(await subjects()).toEqual(['m', 'm'])
    expect((await world.ledger()).filter(({ kind }) => kind === 'entered').at(-1)).toMatchObject({
      cause: { by: 'hand', person: 'Maren', overridden: true },
    })
  })

  test('customers by address or id, in a workflow that is started by hand alone', async () => {
    const id = await world.publish(
      aDefinition({ trigger: { kind: 'hand', subject: 'customer' }, steps: [mail('m')] }),
    )
    await world.post(
      orderEvent(
        'order.placed',
        START,
        { id: 'o1', customerId: 'c1' },
        { email: 'ines@example.org' },
      ),
      orderEvent(
        'order.placed',
        START,
        { id: 'o2', customerId: 'c2' },
        { email: 'rui@example.org' },
      ),
    )
    expect(await hand(id, ['INES@example.org', 'c2', 'c2'])).toEqual({ entered: 2, turnedAway: 0 })
    await expect(hand(id, ['nobody@example.org'])).rejects.toMatchObject({
      code: 'bad_input',
      problems: [{ path: 'nobody@example.org' }],
    })
    await world.pause(id)
    await expect(hand(id, ['c1'])).rejects.toMatchObject({ code: 'conflict' })
  })
})

describe('versions', () => {
  test('people in progress finish on theirs, or are moved: their wait is reckoned anew, nothing comes twice', async () => {
    const first = aDefinition({
      steps: [mail('hello'), wait('w', 'P10D'), mail('old'), wait('x', 'P9D'), mail('gone')],
    })
    const id = await world.publish(first)
    await world.post(orderEvent('order.placed', START, { id: 'o1', customerId: 'c1' }))
    await world.moveTo(START + DAY_MS)
    await publishAgain(
      id,
      0,
      aDefinition({ steps: [wait('w', 'P3D'), mail('hello'), mail('new')] }),
    )
    await world.post(orderEvent('order.placed', START + DAY_MS, { id: 'o2', customerId: 'c2' }))
    const moved = await moveToLiveVersion(world.db, world.programs, SHOP, id, 'Maren')
    expect(moved).toEqual({ moved: 1, stay: 0, left: 0 })
    await world.moveTo(START + 3 * DAY_MS)
    expect(await subjects()).toEqual(['hello', 'new'])
    expect((await world.ledger()).find(({ kind }) => kind === 'skipped')).toMatchObject({
      step: 'hello',
      reason: { code: 'alreadySent' },
    })
    await world.moveTo(START + 30 * DAY_MS)
    expect(await subjects()).toEqual(['hello', 'new', 'hello', 'new'])
  })

  test('those whose step is no longer there stay on their version', async () => {
    const id = await world.publish(aDefinition({ steps: [wait('w', 'P2D'), mail('old')] }))
    await world.post(orderEvent('order.placed', START))
    await publishAgain(id, 0, aDefinition({ steps: [wait('other', 'P1D'), mail('new')] }))
    expect(await moveToLiveVersion(world.db, world.programs, SHOP, id, 'Maren')).toEqual({
      moved: 0,
      stay: 1,
      left: 0,
    })
    await world.moveTo(START + 5 * DAY_MS)
    expect(await subjects()).toEqual(['old'])
  })
})

test('retiring lets runs finish, or ends them with what they had queued', async () => {
  const definition = aDefinition({ steps: [wait('w', 'P1D'), mail('m')] })
  const lets = await world.publish(definition)
  const ends = await world.publish(definition)
  await world.post(orderEvent('order.placed', START))
  const retire = (id: string, endRuns: boolean) =>
    retireWorkflow(world.db, SHOP, id, { endRuns, person: 'Maren' })
  expect(await retire(lets, false)).toBe(0)
  expect(await retire(ends, true)).toBe(1)
  await world.post(orderEvent('order.placed', START, { id: 'o2' }))
  await world.moveTo(START + 2 * DAY_MS)
  expect(await subjects()).toEqual(['m'])
  expect(await kinds()).toContain('retired')
  const { rows } = await world.db.execute(
    sql`select outcome from runs order by workflow_id = ${ends}`,
  )
  expect(rows).toEqual([{ outcome: 'completed' }, { outcome: 'retired' }])
  // For good.
  await expect(goLive(world.db, SHOP, lets, 0, 'tester')).rejects.toMatchObject({
    code: 'conflict',
  })
})

describe('needs attention', () => {
  test('a text that cannot be rendered is kept; mended and tried again, it goes out once', async () => {
    const id = await world.publish(aDefinition({ steps: [mail('m'), mail('after')] }))
    // Past the go-live check, as a template that fails only for some people.
    const broken = aDefinition({
      steps: [mail('m', { body: '{{ order.tracking_url }}' }), mail('after')],
    })
    await world.db.execute(
      sql`update workflow_versions set definition = ${JSON.stringify(broken)}::jsonb`,
    )
    await world.post(orderEvent('order.placed', START))
    expect(await subjects()).toEqual(['after'])
    const [item] = await attentionList(world.db, SHOP)
    expect(item).toMatchObject({
      kind: 'failed',
      step: 'm',
      error: expect.stringContaining('“tracking link” is not known here') as string,
    })
    await publishAgain(
      id,
      0,
      aDefinition({ steps: [mail('m', { subject: 'mended' }), mail('after')] }),
    )
    const repair = { did: 'tryAgain', person: 'Maren' } as const
    await repairMessage(world.db, world.programs, SHOP, item?.id ?? 0, repair)
    await world.settle()
    expect(await subjects()).toEqual(['after', 'mended'])
    expect(await attentionList(world.db, SHOP)).toEqual([])
    await expect(
      repairMessage(world.db, world.programs, SHOP, item?.id ?? 0, repair),
    ).rejects.toMatchObject({ code: 'conflict' })
  })

  test('given up, it is asked about no more', async () => {
    await world.publish(aDefinition({ steps: [mail('m')] }))
    await world.post(orderEvent('order.placed', START, {}, { email: 'bounce@example.net' }))
    const [item] = await attentionList(world.db, SHOP)
    await repairMessage(world.db, world.programs, SHOP, item?.id ?? 0, {
      did: 'giveUp',
      person: 'Maren',
    })
    expect(await attentionList(world.db, SHOP)).toEqual([])
    expect((await kinds()).at(-1)).toBe('repaired')
  })
})

describe('reports that come back by mail', () => {
  const report = (parts: string, messageId: string) =>
    Buffer.from(
      [
        'From: postmaster@example.org',
        'To: hello@combwright.example',
        'Subject: Undelivered mail',
        'MIME-Version: 1.0',
        `Content-Type: multipart/report; report-type=${parts.includes('Feedback') ? 'feedback-report' : 'delivery-status'}; boundary="b"`,
        '',
        '--b',
        'Content-Type: text/plain',
        '',
        'Something came back.',
        '',
        '--b',
        ...parts.split('\n'),
        '',
        '--b',
        'Content-Type: message/rfc822',
        '',
        `Message-ID: ${messageId}`,
        'Subject: m',
        '',
        'Hello',
        '--b--',
        '',
      ].join('\r\n'),
    )
  const bounce = (status: string) =>
    `Content-Type: message/delivery-status\n\nReporting-MTA: dns; mx.example.org\n\nFinal-Recipient: rfc822; ines@example.org\nAction: failed\nStatus: ${status}\nDiagnostic-Code: smtp; 550 ${status} no`
  const complaint =
    'Content-Type: message/feedback-report\n\nFeedback-Type: abuse\nUser-Agent: Test/1\nVersion: 1'

  async function afterReport(parts: string): Promise<unknown> {
    await world.publish(aDefinition({ steps: [mail('m')] }))
    await world.post(orderEvent('order.placed', START))
    const { rows } = await world.db.execute(sql`select message_id from messages`)
    const event = await readReport(
      world.db,
      { shopId: SHOP, secrets: [LINK_SECRET] },
      report(parts, String(rows[0]?.['message_id'])),
    )
    if (event) await ingestEvents(world.db, SHOP, [event, event])
    return (await world.customer())?.suppressed
  }

  test('a dead address is suppressed (RFC 3464, status 5.1.1)', async () => {
    expect(await afterReport(bounce('5.1.1'))).toBe('bounced')
  })
  test('a full mailbox is not', async () => {
    expect(await afterReport(bounce('5.2.2'))).toBeNull()
  })
  test('a complaint stops marketing (RFC 5965)', async () => {
    expect(await afterReport(complaint)).toBe('complained')
  })
  test('a report about somebody else’s mail is refused', async () => {
    await expect(
      readReport(
        world.db,
        { shopId: SHOP, secrets: [LINK_SECRET] },
        report(complaint, '<x@example.org>'),
      ),
    ).rejects.toMatchObject({
      code: 'bad_input',
    })
  })
})

test('a change of a subscription’s status starts what waits for it, from and to', async () => {
  await world.publish(
    aDefinition({
      trigger: on('subscription.status_changed', { from: ['paused'], to: ['ended'] }),
      steps: [anEmail('back', { subject: 'Come back to {{ subscription.title }}', body: 'Hello' })],
    }),
  )
  const change = (id: string, from: string, status: 'ended' | 'cancelled') =>
    eventOf('subscription.status_changed', START, {
      subscription: aSubscription({ id, status }),
      from,
      customer: { id: 'c1', email: 'ines@example.org' },
    })
  await world.post(
    change('s1', 'paused', 'ended'),
    change('s2', 'running', 'ended'),
    change('s3', 'paused', 'cancelled'),
  )
  expect(await subjects()).toEqual(['Come back to Feed Club'])
})
