import { Logger, runOnce } from 'graphile-worker'
import { mailPage, storeMail } from '../backend/mailbox/index.ts'
import { hookCaller } from '../backend/hooks/index.ts'
import { httpSmsGateway, smtpMailer } from '../backend/messages/index.ts'
import { Recommender } from '../backend/recommend/index.ts'
import { document, openDatabase, rowsOf, type Database } from '../backend/platform/db.ts'
import { jobsInHand } from '../backend/platform/jobs.ts'
import { findShop, ingestEvents, requestClockMove, setClock } from '../backend/shop/index.ts'
import { senders } from '../backend/addresses/tables.ts'
import { shops } from '../backend/shop/tables.ts'
import {
  createWorkflow,
  goLive,
  pauseWorkflow,
  resumeWorkflow,
} from '../backend/workflows/index.ts'
import { plainBrand } from '../core/messages/brand.ts'
import type { Definition } from '../core/workflow/definition.ts'
import type { Instant } from '../core/shared/time.ts'
import type { LedgerEntry } from '../core/workflow/ledgerEntry.ts'
import { loadCustomers } from '../drivers/live/facts/customers.ts'
import { stepClock } from '../drivers/live/moveClock.ts'
import { Programs } from '../drivers/live/programs.ts'
import { letInDue } from '../drivers/live/letIn.ts'
import { sendReleased } from '../drivers/live/sendReleased.ts'
import { workOnBulk } from '../drivers/live/bulk/workOnBulk.ts'
import { runDue } from '../drivers/live/runDue.ts'
import { sweepDates } from '../drivers/live/sweepDates.ts'
import type { SendDeps } from '../drivers/live/send/index.ts'
import { startSmsGateway, type ReceivedSms } from '../simulated/smsGateway.ts'
import { startSmtpServer } from '../simulated/smtpServer.ts'
import { makeTasks } from '../worker/tasks.ts'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { START } from './builders.ts'
import { freeDatabase, makeDatabase } from './database.ts'

export const SHOP = 'test-shop'
export const LINK_SECRET = 'a secret for tests that is long enough'

/** Adds a shop whose clock is moved by hand. */
export async function addShop(db: Database, id = SHOP, clockNow: Instant = START): Promise<void> {
  await db.insert(shops).values({
    id,
    name: 'Combwright',
    zone: 'Europe/Lisbon',
    currency: 'EUR',
    locale: 'en-IE',
    defaultSenderName: 'Combwright',
    defaultSenderAddress: 'hello@combwright.example',
    brand: { ...plainBrand('Combwright'), postalAddress: 'Rua das Colmeias 12\n2710-405 Sintra' },
    clockNow,
  })
  await db.insert(senders).values([
    { shopId: id, address: 'maren@combwright.example', name: 'Maren', verifiedAt: clockNow },
    { shopId: id, address: 'care@combwright.example', name: 'Tiago', verifiedAt: clockNow },
  ])
}

/**
 * A shop with everything real but the process around it: PostgreSQL, queue, SMTP. Time moves only
 * when a test moves it, and work is done when a test asks for it.
 */
export async function makeWorld(
  over: Partial<Pick<SendDeps, 'mailer' | 'returnPath'>> & { url?: string } = {},
) {
  const url = over.url ?? (await makeDatabase())
  const db = openDatabase(url)
  if (over.url === undefined) await addShop(db)
  const smtp = await startSmtpServer(({ raw, recipients }) => storeMail(db, SHOP, raw, recipients))
  const mailer = over.mailer ?? smtpMailer(`smtp://127.0.0.1:${smtp.port}`)
  const texts: ReceivedSms[] = []
  const gateway = await startSmsGateway(async (sms) => {
    texts.push(sms)
  })
  /** What the queue has complained about. */
  const complaints: string[] = []
  const logger = new Logger(() => (level: string, message) => {
    if (level === 'error') complaints.push(message)
  })
  const programs = new Programs()
  const taskList = makeTasks({
    db,
    programs,
    mailer,
    sms: httpSmsGateway(gateway.url),
    recommender: new Recommender(),
    hooks: hookCaller({ allowPrivate: true }),
    workerId: 'w-test',
    publicUrl: 'http://localhost',
    linkSecret: LINK_SECRET,
    returnPath: over.returnPath ?? null,
  })

  /** Does all the work there is at this moment. */
  const settle = async (): Promise<void> => {
    do {
      await runOnce({ pgPool: db.$client, taskList, noHandleSignals: true, logger })
    } while (
      (await runDue(db, programs, SHOP)) > 0 ||
      (await workOnBulk(db, programs, SHOP)) ||
      (await sweepDates(db, programs, SHOP)) ||
      (await letInDue(db, programs, SHOP)) ||
      (await sendReleased(db, SHOP)) > 0 ||
      (await jobsInHand(db))
    )
  }

  return {
    url,
    db,
    programs,
    texts,
    complaints,
    smtpUrl: `smtp://127.0.0.1:${smtp.port}`,
    settle,
    publish: async (definition: Definition): Promise<string> => {
      const id = await createWorkflow(db, SHOP, definition)
      await goLive(db, SHOP, id, 0, 'tester')
      return id
    },
    /** Posts events and does the work they bring. */
    post: async (...events: object[]) => {
      const receipts = await ingestEvents(db, SHOP, events)
      await settle()
      return receipts
    },
    moveTo: async (target: Instant): Promise<void> => {
      await requestClockMove(db, SHOP, target)
      while ((await stepClock(db, SHOP)) !== 'stands') await settle()
    },
    /** Puts the clock forward with nobody at work in between, as after an outage. */
    jumpTo: (target: Instant) => setClock(db, SHOP, target),
    pause: (id: string) => pauseWorkflow(db, SHOP, id),
    resume: async (id: string, options?: Parameters<typeof resumeWorkflow>[3]): Promise<void> => {
      await resumeWorkflow(db, SHOP, id, options)
      await settle()
    },
    mails: async () => (await mailPage(db, SHOP, {})).mails.toReversed(),
    ledger: async (): Promise<(LedgerEntry & { at: Instant })[]> => {
      const rows = await rowsOf(
        db,
        z.object({
          at: z.number(),
          entry: document<LedgerEntry>(),
        }),
        sql`select at, entry from ledger where shop_id = ${SHOP} order by id`,
      )
      return rows.map(({ at, entry }) => ({ ...entry, at }))
    },
    shop: () => findShop(db, SHOP),
    /** What is known of a customer, and how the gates see whether they can be reached. */
    customer: async (id = 'c1') => {
      const customer = (await loadCustomers(db, SHOP, [id])).get(id)
      if (!customer) return undefined
      const { email, sms } = customer.channels
      return {
        ...customer,
        mobile: sms.address,
        emailConsent: email.consent,
        smsConsent: sms.consent,
        suppressed: email.suppressed,
      }
    },
    close: async (): Promise<void> => {
      mailer.close()
      await smtp.close()
      await gateway.close()
      await db.$client.end()
      freeDatabase(url)
    },
  }
}
export type World = Awaited<ReturnType<typeof makeWorld>>
