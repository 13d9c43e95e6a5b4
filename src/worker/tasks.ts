import type { JobHelpers, Logger, TaskList } from 'graphile-worker'
import { z } from 'zod'
import { toError } from '../backend/platform/errors.ts'
import { addJobs, type JobPayloads } from '../backend/platform/jobs.ts'
import { runImport } from '../backend/imports/index.ts'
import { reckonReorders } from '../backend/reorder/index.ts'
import { readClock, refuseMoving } from '../backend/shop/index.ts'
import { startRuns } from '../drivers/live/startRuns.ts'
import {
  sendMessages,
  sendOrGiveUp,
  TemporaryDeliveryError,
  type SendDeps,
} from '../drivers/live/send/index.ts'

const startRunsPayload: z.ZodType<JobPayloads['startRuns']> = z.object({
  shopId: z.string(),
  seqs: z.array(z.int()),
})
const sendMessagesPayload: z.ZodType<JobPayloads['sendMessages']> = z.object({
  shopId: z.string(),
  runIds: z.array(z.int()),
})

const reckonReordersPayload: z.ZodType<JobPayloads['reckonReorders']> = z.object({
  shopId: z.string(),
})

const runImportPayload: z.ZodType<JobPayloads['runImport']> = z.object({
  shopId: z.string(),
  importId: z.string(),
})

/** How often a message is tried before a person has to look at it: over six hours or so. */
const MOST_TRIES = 12

/** What the job queue calls for each kind of job. */
export function makeTasks(deps: SendDeps): TaskList {
  return {
    startRuns: async (payload, { logger }: JobHelpers) => {
      const { shopId, seqs } = startRunsPayload.parse(payload)
      await refuseMoving(deps.db, shopId)
      try {
        await startRuns(deps.db, deps.programs, shopId, seqs)
      } catch (error) {
        if (seqs.length === 1) throw error
        // One event that cannot be looked at does not hold up those that came in with it; the job of its
        // own throws again.
        logger.error(`events are looked at one by one now: ${toError(error).message}`)
        await addJobs(
          deps.db,
          seqs.map((seq) => ({ name: 'startRuns', payload: { shopId, seqs: [seq] } })),
        )
      }
    },
    sendMessages: async (payload, { job, logger }: JobHelpers) => {
      const { shopId, runIds } = sendMessagesPayload.parse(payload)
      await refuseMoving(deps.db, shopId)
      const [only, ...others] = runIds
      if (only !== undefined && others.length === 0) {
        return job.attempts < MOST_TRIES
          ? sendMessages(deps, shopId, only)
          : sendOrGiveUp(deps, shopId, only)
      }
      for (const runId of runIds) await sendOrPutOff(deps, shopId, runId, logger)
    },
    reckonReorders: async (payload) => {
      const { shopId } = reckonReordersPayload.parse(payload)
      await refuseMoving(deps.db, shopId)
      const { now } = await readClock(deps.db, shopId)
      await reckonReorders(deps.db, shopId, now)
    },
    runImport: async (payload) => {
      const { shopId, importId } = runImportPayload.parse(payload)
      await refuseMoving(deps.db, shopId)
      await runImport(deps.db, shopId, importId)
    },
  }
}

/** What cannot be handed over now gets a job, and with it a pause, of its own; there it throws again. */
async function sendOrPutOff(
  deps: SendDeps,
  shopId: string,
  runId: number,
  logger: Logger,
): Promise<void> {
  try {
    await sendMessages(deps, shopId, runId)
  } catch (error) {
    // What the other side puts off is in the ledger; of anything else the log is the first to know.
    if (!(error instanceof TemporaryDeliveryError)) {
      logger.error(`messages of run ${runId} were not sent: ${toError(error).message}`)
    }
    await addJobs(deps.db, [
      { name: 'sendMessages', payload: { shopId, runIds: [runId] }, delayed: true },
    ])
  }
}
