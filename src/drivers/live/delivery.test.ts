import { SMTPServer } from 'smtp-server'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { saveGroup } from '../../backend/addresses/index.ts'
import { storeMail } from '../../backend/mailbox/index.ts'
import { messages } from '../../backend/messages/tables.ts'
import { hookCaller } from '../../backend/hooks/index.ts'
import { Recommender } from '../../backend/recommend/index.ts'
import { httpSmsGateway, smtpMailer, type Mailer } from '../../backend/messages/index.ts'
import {
  aDefinition,
  anEmail,
  end,
  happened,
  orderEvent,
  START,
  wait,
} from '../../testing/builders.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../../testing/world.ts'
import { Programs } from './programs.ts'
import { recoverFromCrashes } from './recover.ts'
import { sendMessages, sendOrGiveUp, TemporaryDeliveryError, type SendDeps } from './send/index.ts'
import { startRuns } from './startRuns.ts'
import { ingestEvents } from '../../backend/shop/index.ts'
import { registerWorker } from '../../backend/platform/workers.ts'

let world: World
let mailer: Mailer | null = null
let server: SMTPServer | null = null
beforeEach(async () => {
  world = await makeWorld()
})
afterEach(async () => {
  mailer?.close()
  await new Promise<void>((done) => (server ? server.close(() => done()) : done()))
  mailer = null
  server = null
  await world.close()
})

/** A mail server that answers as a test wants: `onData` per mail, counting from 0. */
async function smtpThat(answer: (count: number) => Error | 'hangUp' | null): Promise<SendDeps> {
  let count = 0
  const own = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    onData: (stream, session, callback) => {
      const chunks: Buffer[] = []
      stream.on('data', (chunk: Buffer) => chunks.push(chunk))
      stream.on('end', () => {
        const result = answer(count)
        count += 1
        if (result === 'hangUp') {
          // The text is here, the answer never leaves: what a crash between the two looks like.
          for (const connection of own.connections) connection.close()
          return
        }
        if (result) return callback(result)
        const recipients = session.envelope.rcptTo.map(({ address }) => address)
        void storeMail(world.db, SHOP, Buffer.concat(chunks), recipients).then(() => callback())
      })
    },
  })
  own.on('error', () => undefined)
  server = own
  const port = await new Promise<number>((resolve) => {
    const listener = own.listen(0, '127.0.0.1', () =>
      resolve((listener.address() as { port: number }).port),
    )
  })
  mailer = smtpMailer(`smtp://127.0.0.1:${port}`)
  return {
    db: world.db,
    programs: new Programs(),
    mailer,
    sms: httpSmsGateway('http://127.0.0.1:1/messages'),
    recommender: new Recommender(),
    hooks: hookCaller({ allowPrivate: true }),
    workerId: 'w-1',
    publicUrl: 'http://localhost',
    linkSecret: LINK_SECRET,
    returnPath: 'bounces@mail.combwright.example',
  }
}

const smtpError = (code: number, text: string): Error =>
  Object.assign(new Error(text), { responseCode: code })

/** Starts one run without the queue, so that the test decides when its messages are sent. */
async function startOne(definition: Parameters<typeof aDefinition>[0]): Promise<number> {
  await world.publish(aDefinition(definition))
  await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START)])
  const { rows } = await world.db.execute('select seq from events')
  await startRuns(
    world.db,
    new Programs(),
    SHOP,
    rows.map((row) => Number(row['seq'])),
  )
  const runs = await world.db.execute('select id from runs')
  return Number(runs.rows[0]?.['id'])
}

const statuses = async () =>
  (await world.db.select().from(messages).orderBy(messages.id)).map(({ status }) => status)
const kinds = async () => (await world.ledger()).map(({ kind }) => kind)

describe('a mail server that says no', () => {
  test('for now (452): it is tried again, as the same mail', async () => {
    const deps = await smtpThat((count) =>
      count === 0 ? smtpError(452, '4.2.2 Mailbox full') : null,
    )
    const run = await startOne({})
    await expect(sendMessages(deps, SHOP, run)).rejects.toThrow(TemporaryDeliveryError)
    expect(await statuses()).toEqual(['queued'])
    await sendMessages(deps, SHOP, run)
    expect(await statuses()).toEqual(['sent'])
    expect(await kinds()).toEqual(['entered', 'sends', 'ended', 'retries', 'sent'])
    expect(await world.mails()).toHaveLength(1)
  })

  test('for now, at the last try: it is put aside for a person', async () => {
    const deps = await smtpThat(() => smtpError(421, '4.3.2 Not now'))
    const run = await startOne({})
    await sendOrGiveUp(deps, SHOP, run)
    expect(await statuses()).toEqual(['failed'])
    expect((await world.ledger()).at(-1)).toMatchObject({
      kind: 'failed',
      error: expect.stringContaining('given up') as unknown,
    })
  })

  test('whatever keeps a message back at the last try, it is put aside and those behind it leave', async () => {
    const deps = await smtpThat(() => null)
    const run = await startOne({ steps: [anEmail('a'), anEmail('b')] })
    await world.db.execute("update messages set step = 'gone' where step = 'a'")
    await expect(sendMessages(deps, SHOP, run)).rejects.toThrow(RangeError)
    await sendOrGiveUp(deps, SHOP, run)
    expect(await statuses()).toEqual(['failed', 'sent'])
  })

  test('for good (554, policy): it is put aside, and the address is not suppressed for it', async () => {
    const deps = await smtpThat(() => smtpError(554, '5.7.1 Refused by policy'))
    const run = await startOne({})
    await sendMessages(deps, SHOP, run)
    expect(await statuses()).toEqual(['failed'])
    expect(await world.customer()).toMatchObject({ suppressed: null })
  })

  test('a message waits for the one before it', async () => {
    const deps = await smtpThat((count) => (count === 0 ? smtpError(421, '4.3.2 Try later') : null))
    const run = await startOne({
      steps: [anEmail('a', { subject: 'One' }), anEmail('b', { subject: 'Two' })],
    })
    await expect(sendMessages(deps, SHOP, run)).rejects.toThrow(TemporaryDeliveryError)
    expect(await statuses()).toEqual(['queued', 'queued'])
    await sendMessages(deps, SHOP, run)
    expect((await world.mails()).map(({ subject }) => subject)).toEqual(['One', 'Two'])
  })
})

describe('a connection that breaks after the text', () => {
  test('transactional: sent again under the same Message-ID', async () => {
    const deps = await smtpThat((count) => (count === 0 ? 'hangUp' : null))
    const run = await startOne({})
    await expect(sendMessages(deps, SHOP, run)).rejects.toThrow(TemporaryDeliveryError)
    await sendMessages(deps, SHOP, run)
    expect(await statuses()).toEqual(['sent'])
    expect(await kinds()).toEqual(['entered', 'sends', 'ended', 'unsure', 'sent'])
  })

  test('marketing: waits for a person', async () => {
    const deps = await smtpThat(() => 'hangUp')
    const run = await startOne({ steps: [anEmail('a', { purpose: 'marketing' })] })
    await sendMessages(deps, SHOP, run)
    await sendMessages(deps, SHOP, run)
    expect(await statuses()).toEqual(['unsure'])
    expect(await world.mails()).toHaveLength(0)
  })
})

describe('the gates are asked again just before the hand-over', () => {
  test('a refund that came in after the decision stops the message and ends the run', async () => {
    const deps = await smtpThat(() => null)
    const exclusions = [
      { key: 'refund', when: happened('order.refunded'), effect: 'leave' as const },
    ]
    const run = await startOne({
      exclusions,
      steps: [anEmail('a'), anEmail('b'), wait('w', 'P1D'), anEmail('c')],
    })
    await world.db.execute(`update shops set clock_now = ${START + 1000}`)
    await ingestEvents(world.db, SHOP, [orderEvent('order.refunded', START + 1000)])
    await sendMessages(deps, SHOP, run)
    expect(await statuses()).toEqual(['skipped', 'skipped'])
    const { rows } = await world.db.execute('select status, outcome, due_at from runs')
    expect(rows).toEqual([{ status: 'ended', outcome: 'left', due_at: null }])
    expect(await world.mails()).toHaveLength(0)
  })

  test('… and a hook, but not for what the run itself did after it', async () => {
    const deps = await smtpThat(() => null)
    const calls: string[] = []
    const hooks = {
      call: ({ url }: { url: string }) => {
        calls.push(url)
        return Promise.resolve({ kind: 'sent' as const })
      },
    }
    const run = await startOne({
      exclusions: [
        { key: 'refund', when: happened('order.refunded'), effect: 'leave' },
        {
          key: 'called',
          when: { kind: 'field', field: 'customer.tags', op: 'hasAny', value: ['called'] },
          effect: 'skip',
        },
      ],
      steps: [
        { key: 'h', kind: 'hook', name: 'Ours', url: 'https://example.org/first' },
        { key: 't', kind: 'tag', change: 'add', tag: 'called' },
        wait('w', 'P1D'),
        end('e'),
      ],
    })
    await sendMessages({ ...deps, hooks }, SHOP, run)
    expect(calls).toEqual(['https://example.org/first'])
    await world.db.execute("update messages set status = 'queued'")
    await world.db.execute(`update shops set clock_now = ${START + 1000}`)
    await ingestEvents(world.db, SHOP, [orderEvent('order.refunded', START + 1000)])
    await sendMessages({ ...deps, hooks }, SHOP, run)
    expect(calls).toHaveLength(1)
    expect((await kinds()).at(-1)).toBe('left')
  })
})

describe('a worker that died while handing over', () => {
  async function abandon(definition: Parameters<typeof aDefinition>[0]) {
    const run = await startOne(definition)
    const identity = await registerWorker(world.db, () => undefined)
    await world.db.update(messages).set({ status: 'handingOver', worker: identity.id })
    return { run, identity }
  }

  test('is not taken for dead while it lives', async () => {
    const { identity } = await abandon({})
    expect(await recoverFromCrashes(world.db)).toBe(0)
    expect(await statuses()).toEqual(['handingOver'])
    await identity.release()
  })

  test.each([
    ['transactional' as const, 'queued', true],
    ['marketing' as const, 'unsure', false],
  ])('%s', async (purpose, status, resent) => {
    const { identity } = await abandon({ steps: [anEmail('a', { purpose })] })
    // What PostgreSQL does when the process is gone; it is over once the connection has ended.
    await world.db.execute(`select pg_terminate_backend(pid, 10000) from pg_locks
      where locktype = 'advisory' and classid = 7406001
        and database = (select oid from pg_database where datname = current_database())`)
    expect(await recoverFromCrashes(world.db)).toBe(1)
    expect(await statuses()).toEqual([status])
    expect((await world.ledger()).at(-1)).toMatchObject({ kind: 'unsure', resent })
    expect(await recoverFromCrashes(world.db)).toBe(0)
    await identity.release()
  })
})

describe('several workers', () => {
  test('one event delivered to both starts one run', async () => {
    await world.publish(aDefinition())
    await ingestEvents(world.db, SHOP, [orderEvent('order.placed', START)])
    const { rows } = await world.db.execute('select seq from events')
    const seqs = rows.map((row) => Number(row['seq']))
    await Promise.all([1, 2, 3].map(() => startRuns(world.db, new Programs(), SHOP, seqs)))
    expect(await kinds()).toEqual(['entered', 'sends', 'ended'])
  })

  test('an entry limit holds when a person’s events are looked at at the same time', async () => {
    await world.publish(aDefinition({ entry: { rule: { kind: 'once' }, overlap: 'allow' } }))
    await ingestEvents(
      world.db,
      SHOP,
      [1, 2, 3, 4].map((one) => orderEvent('order.placed', START - one, { id: `o${one}` })),
    )
    const { rows } = await world.db.execute('select seq from events')
    await Promise.all(
      rows.map((row) => startRuns(world.db, new Programs(), SHOP, [Number(row['seq'])])),
    )
    expect((await kinds()).filter((kind) => kind === 'entered')).toHaveLength(1)
    expect((await kinds()).filter((kind) => kind === 'turnedAway')).toHaveLength(3)
  })

  test('both handing over one run’s messages send each once', async () => {
    const deps = await smtpThat(() => null)
    const run = await startOne({ steps: [anEmail('a'), anEmail('b')] })
    await Promise.all([1, 2, 3].map(() => sendMessages(deps, SHOP, run)))
    await sendMessages(deps, SHOP, run)
    expect(await world.mails()).toHaveLength(2)
    expect(await statuses()).toEqual(['sent', 'sent'])
  })
})

test('a note whose groups have lost everybody waits for repair', async () => {
  const care = { key: 'care', name: 'Care', addresses: ['tiago@combwright.example'] }
  await saveGroup(world.db, SHOP, care)
  await world.publish(
    aDefinition({
      steps: [{ key: 'n', kind: 'note', name: 'Call', to: [], groups: ['care'], subject: 'S', body: 'B' }],
    }),
  ) // prettier-ignore
  await saveGroup(world.db, SHOP, { ...care, addresses: [] })
  await world.post(orderEvent('order.placed', START))
  expect(await world.mails()).toEqual([])
  expect((await world.ledger()).at(-1)).toMatchObject({
    kind: 'failed',
    error: expect.stringContaining('nobody in its groups') as string,
  })
})
