import type { JobHelpers, TaskList } from 'graphile-worker'
import { z } from 'zod'
import type { JobPayloads } from '../backend/platform/jobs.ts'
import { startRuns } from '../drivers/live/startRuns.ts'
import { sendMessages, type SendDeps } from '../drivers/live/sendMessages.ts'

const startRunsPayload: z.ZodType<JobPayloads['startRuns']> = z.object({
  shopId: z.string(),
  seqs: z.array(z.int()),
})
const sendMessagesPayload: z.ZodType<JobPayloads['sendMessages']> = z.object({
  shopId: z.string(),
  runId: z.int(),
})

/** What the job queue calls for each kind of job. */
export function makeTasks(deps: SendDeps): TaskList {
  return {
    startRuns: async (payload) => {
      const { shopId, seqs } = startRunsPayload.parse(payload)
      await startRuns(deps.db, deps.programs, shopId, seqs)
    },
    sendMessages: async (payload, { job }: JobHelpers) => {
      const { shopId, runId } = sendMessagesPayload.parse(payload)
      await sendMessages(deps, shopId, runId, { lastTry: job.attempts >= job.max_attempts })
    },
  }
}
