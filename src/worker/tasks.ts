import type { JobHelpers, TaskList } from 'graphile-worker'
import { z } from 'zod'
import { addJobs, type JobPayloads } from '../backend/platform/jobs.ts'
import { startRuns } from '../drivers/live/startRuns.ts'
import { sendMessages, TemporaryDeliveryError, type SendDeps } from '../drivers/live/send/index.ts'

const startRunsPayload: z.ZodType<JobPayloads['startRuns']> = z.object({
  shopId: z.string(),
  seqs: z.array(z.int()),
})
const sendMessagesPayload: z.ZodType<JobPayloads['sendMessages']> = z.object({
  shopId: z.string(),
  runIds: z.array(z.int()),
})

/** What the job queue calls for each kind of job. */
export function makeTasks(deps: SendDeps): TaskList {
  return {
    startRuns: async (payload) => {
      const { shopId, seqs } = startRunsPayload.parse(payload)
      await startRuns(deps.db, deps.programs, shopId, seqs)
    },
    sendMessages: async (payload, { job }: JobHelpers) => {
      const { shopId, runIds } = sendMessagesPayload.parse(payload)
      const [only, ...others] = runIds
      if (only !== undefined && others.length === 0) {
        return sendMessages(deps, shopId, only, { lastTry: job.attempts >= job.max_attempts })
      }
      for (const runId of runIds) await sendOrPutOff(deps, shopId, runId)
    },
  }
}

/** What cannot be handed over now gets a job, and with it a pause, of its own. */
async function sendOrPutOff(deps: SendDeps, shopId: string, runId: number): Promise<void> {
  try {
    await sendMessages(deps, shopId, runId)
  } catch (error) {
    if (!(error instanceof TemporaryDeliveryError)) throw error
    await addJobs(deps.db, [
      { name: 'sendMessages', payload: { shopId, runIds: [runId] }, delayed: true },
    ])
  }
}
