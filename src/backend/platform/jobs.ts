import { sql } from 'drizzle-orm'
import { runMigrations } from 'graphile-worker'
import type { Instant } from '../../core/shared/time.ts'
import type { Database, Db } from './db.ts'
import { realNow } from './realTime.ts'
import { Shares } from './shares.ts'

/** The jobs that go through the queue, with what each is told. */
export interface JobPayloads {
  /** Events that have just arrived and may start runs. */
  startRuns: { shopId: string; seqs: number[] }
  /** Runs whose queued messages are to be handed over, each run's in their order. */
  sendMessages: { shopId: string; runIds: number[] }
  /** A shop whose orders are to be looked at for when things are bought again. */
  reckonReorders: { shopId: string }
  /** A file that is brought in. */
  runImport: { shopId: string; importId: string }
}
export type JobName = keyof JobPayloads

export interface JobSpec<Name extends JobName = JobName> {
  name: Name
  payload: JobPayloads[Name]
  /** Only after the pause of a first failed try. */
  delayed?: boolean
}

/**
 * As good as never: a job that is given up would take what it was about with it, unseen. The pause
 * between tries grows up to six hours. How often a message is tried is another matter.
 */
const MAX_ATTEMPTS = 32_000
/** As long as the queue itself waits after a first failure: e seconds. */
const FIRST_PAUSE_MS = 2718

/** Whoever has ordered waits for nobody's mails; what somebody waits for at a screen goes before what nobody looks at. */
const MAY_WAIT_MS: Readonly<Record<JobName, number>> = {
  startRuns: 0,
  runImport: 10_000,
  sendMessages: 30_000,
  reckonReorders: 60_000,
}
const shares = new Shares()

/**
 * The queue does jobs with the smallest priority first, and of those what came first: it is in how many seconds a job ought to be done, as
 * seen when it is added. Those of a shop that brings much go behind those of others; one that is tried again keeps its place.
 */
function priorityOf({ name, payload }: JobSpec, now: Instant): number {
  const amount =
    'seqs' in payload ? payload.seqs.length : 'runIds' in payload ? payload.runIds.length : 1
  const dueAt = shares.dueAt(`${payload.shopId} ${name}`, amount, now) + MAY_WAIT_MS[name]
  return Math.ceil((dueAt - now) / 1000)
}

/** Brings the queue's own tables up to date. */
export async function migrateJobs(db: Database): Promise<void> {
  await runMigrations({ pgPool: db.$client })
}

/** Adds jobs in the caller's transaction: they exist if and only if it commits. */
export async function addJobs(db: Db, jobs: readonly JobSpec[]): Promise<void> {
  if (jobs.length === 0) return
  const now = realNow()
  const specs = jobs.map((job) => ({
    identifier: job.name,
    payload: job.payload,
    max_attempts: MAX_ATTEMPTS,
    priority: priorityOf(job, now),
    delayed: job.delayed === true,
  }))
  await db.execute(sql`
    select graphile_worker.add_jobs(array(
      select json_populate_record(null::graphile_worker.job_spec, (spec.of - 'delayed' || spec.later)::json)
      from (
        -- By the clock that the queue goes by: one of ours that is ahead must not keep a job waiting.
        select of, case when (of->>'delayed')::boolean
          then jsonb_build_object('run_at', clock_timestamp() + ${`${FIRST_PAUSE_MS} milliseconds`}::interval) else '{}' end as later
        from jsonb_array_elements(${JSON.stringify(specs)}::jsonb) as of
      ) spec
    )) limit 1`)
}

/** True while a job is being worked on or could be. Jobs that wait for their next try do not count. */
export async function jobsInHand(db: Db): Promise<boolean> {
  const { rows } = await db.execute(sql`
    select 1 from graphile_worker.jobs
    where locked_at is not null or (attempts < max_attempts and run_at <= now())
    limit 1`)
  return rows.length > 0
}
