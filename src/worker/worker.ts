import { Logger, run as runQueue } from 'graphile-worker'
import { EventEmitter } from 'node:events'
import { setTimeout as pause } from 'node:timers/promises'
import { hookCaller } from '../backend/hooks/index.ts'
import { httpSmsGateway, readDkim, smtpMailer } from '../backend/messages/index.ts'
import { publicUrlOf, type Config } from '../backend/platform/config.ts'
import { Recommender } from '../backend/recommend/index.ts'
import { openDatabase, type Database } from '../backend/platform/db.ts'
import { toError } from '../backend/platform/errors.ts'
import type { Log } from '../backend/platform/log.ts'
import { registerWorker } from '../backend/platform/workers.ts'
import { reckonWhenDue } from '../backend/reorder/index.ts'
import { readClock } from '../backend/shop/index.ts'
import { stepClock } from '../drivers/live/moveClock.ts'
import { Programs } from '../drivers/live/programs.ts'
import { recoverFromCrashes } from '../drivers/live/recover.ts'
import { workOnBulk } from '../drivers/live/bulk/workOnBulk.ts'
import { letInDue } from '../drivers/live/letIn.ts'
import { sendReleased } from '../drivers/live/sendReleased.ts'
import { runDue, runMuchDue } from '../drivers/live/runDue.ts'
import { shopsWithWork } from '../drivers/live/shopsWithWork.ts'
import { sweepDates } from '../drivers/live/sweepDates.ts'
import { startCounting } from './keepCounting.ts'
import { startWatching } from './keepWatch.ts'
import { startPulling } from './keepPulling.ts'
import { serveMetrics } from './metrics.ts'
import { makeTasks } from './tasks.ts'
import type { SendDeps } from '../drivers/live/send/index.ts'

const QUEUE_CONCURRENCY = 4
const IDLE_PAUSE_MS = 250
const BUSY_PAUSE_MS = 3
const RECOVER_EVERY_MS = 5_000

export interface WorkerOptions {
  config: Config
  log: Log
  /** Called when the worker can no longer go on and the process should end. */
  onLost: () => void
}

/** Starts a worker: job queue, due runs, shop clocks. Resolves to the function that stops it. */
export async function startWorker({
  config,
  log,
  onLost,
}: WorkerOptions): Promise<() => Promise<void>> {
  const db = openDatabase(config.DATABASE_URL, { connections: QUEUE_CONCURRENCY + 6 })
  const programs = new Programs()
  const mailer = smtpMailer(config.SMTP_URL, {
    connections: QUEUE_CONCURRENCY,
    dkim: readDkim(config),
  })
  const identity = await registerWorker(db, () => {
    log.fatal('lost the database connection that says this worker lives')
    onLost()
  })
  const tasks = makeTasks(sendingWith(config, { db, programs, mailer, workerId: identity.id }))
  await recoverFromCrashes(db)
  const events = new EventEmitter()
  const joined = new Promise<void>((resolve, reject) => {
    events.once('pool:create', ({ workerPool }: { workerPool: { id: string } }) => {
      identity.joinPool(workerPool.id).then(resolve, reject)
    })
  })
  const queue = await runQueue({
    pgPool: db.$client,
    taskList: tasks,
    concurrency: QUEUE_CONCURRENCY,
    noHandleSignals: true,
    pollInterval: 1000,
    logger: queueLogger(log),
    events,
  })
  await joined
  const loop = startLoop(db, programs, log)
  identity.onWake(loop.wake)
  const stopCounting = startCounting(db, log)
  const metrics = await serveMetrics(config)
  const stopWatching = startWatching({ db, mailer, publicUrl: publicUrlOf(config) }, log)
  const stopPulling = startPulling(db, log, config.HOOKS_ALLOW_PRIVATE)
  return async () => {
    await stopPulling()
    await stopWatching()
    await metrics.stop()
    await stopCounting()
    await loop.stop()
    await queue.stop()
    mailer.close()
    await identity.release()
    await db.$client.end()
  }
}

/** What sending needs, as the configuration says. */
export function sendingWith(
  config: Config,
  given: Pick<SendDeps, 'db' | 'programs' | 'mailer' | 'workerId'>,
): SendDeps {
  return {
    ...given,
    sms: httpSmsGateway(config.SMS_URL),
    recommender: new Recommender(),
    hooks: hookCaller({ allowPrivate: config.HOOKS_ALLOW_PRIVATE }),
    publicUrl: publicUrlOf(config),
    linkSecret: config.LINK_SECRET,
    returnPath: config.RETURN_PATH ?? null,
  }
}

/** Moves what is due and the clocks, in the shops where there is something to be done, until told to stop. */
function startLoop(
  db: Database,
  programs: Programs,
  log: Log,
): { wake: () => void; stop: () => Promise<void> } {
  const stopping = new AbortController()
  let napping = new AbortController()
  let wokenUp = false
  let lastRecovery = performance.now()
  const round = async (): Promise<number> => {
    let worked = false
    const shops = await shopsWithWork(db)
    for (const shopId of shops) {
      if (await workOnDue(db, programs, shopId, shops.length === 1)) worked = true
      else if ((await stepClock(db, shopId)) !== 'stands') worked = true
    }
    if (performance.now() - lastRecovery > RECOVER_EVERY_MS) {
      lastRecovery = performance.now()
      const dead = await recoverFromCrashes(db)
      if (dead > 0) log.warn({ dead }, 'took over from workers that died')
    }
    return worked ? BUSY_PAUSE_MS : IDLE_PAUSE_MS
  }
  const run = async (): Promise<void> => {
    while (!stopping.signal.aborted) {
      let pauseMs = IDLE_PAUSE_MS
      try {
        pauseMs = await round()
      } catch (error) {
        // The database may be away for a while: nothing is lost, what is due stays due.
        log.error({ err: toError(error) }, 'a round of the worker failed; it goes on')
      }
      if (wokenUp) pauseMs = 0
      wokenUp = false
      napping = new AbortController()
      const signal = AbortSignal.any([stopping.signal, napping.signal])
      await pause(pauseMs, undefined, { signal }).catch(() => undefined)
    }
  }
  const running = run()
  return {
    wake: () => {
      wokenUp = true
      napping.abort()
    },
    stop: async () => {
      stopping.abort()
      await running
    },
  }
}

/** Does some of what is due in a shop, less of it while others wait for their turn; false when there is nothing. */
async function workOnDue(
  db: Database,
  programs: Programs,
  shopId: string,
  alone: boolean,
): Promise<boolean> {
  // Before what is due and not behind it: a storm of that must not keep those waiting whom somebody has moved or ended.
  const changed = await workOnBulk(db, programs, shopId)
  const moved = await (alone ? runMuchDue : runDue)(db, programs, shopId)
  if (moved > 0 || changed) return true
  if (await sweepDates(db, programs, shopId)) return true
  if (await letInDue(db, programs, shopId)) return true
  if ((await sendReleased(db, shopId)) > 0) return true
  return reckonWhenDue(db, shopId, (await readClock(db, shopId)).now)
}

/** The queue reports every job at "info"; here that is detail. */
const LOG_METHODS = { error: 'error', warning: 'warn', info: 'debug', debug: 'debug' } as const

function queueLogger(log: Log): Logger {
  return new Logger((scope) => (level, message) => {
    // A failed query's parameters are people's addresses and names.
    log[LOG_METHODS[level]](scope, message.replace(/\nparams: [\s\S]*/, ''))
  })
}
