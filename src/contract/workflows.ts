import { z } from 'zod'
import { definitionSchema, type Definition } from '../core/workflow/definition.ts'
import { MOST_INTEGER } from './numbers.ts'

export const workflowState = z.enum(['draft', 'live', 'paused', 'retired'])
export type WorkflowState = z.infer<typeof workflowState>

export const workflowNumbers = z.object({
  /** In progress now. */
  inProgress: z.int(),
  /** Since a time that is asked for, or the workflow was made: entered, turned away, messages sent, skipped, people who left. */
  entered: z.int(),
  turnedAway: z.int(),
  sent: z.int(),
  skipped: z.int(),
  left: z.int(),
  /** Messages that could not be sent or may not have arrived. */
  needAttention: z.int(),
  nextDueAt: z.int().nullable(),
})
export type WorkflowNumbers = z.infer<typeof workflowNumbers>

/** Orders that count for a workflow, and what they came to in the shop's currency. */
export const earned = z.object({ orders: z.int(), revenueMinor: z.int() })
export type Earned = z.infer<typeof earned>

/** Over which of the last days the list counts. */
export const workflowListQuery = z.object({
  days: z.coerce.number().int().min(1).max(366).default(30),
})

export const workflowListItem = z.object({
  id: z.string(),
  name: z.string(),
  description: z.string(),
  labels: z.array(z.string()),
  state: workflowState,
  priority: z.int(),
  trigger: z.string(),
  /** What starts it, in words. */
  startsWhen: z.string(),
  liveVersion: z.int().nullable(),
  hasUnpublishedChanges: z.boolean(),
  findings: z.object({ errors: z.int(), warnings: z.int() }),
  /** Of its paths, arms and exclusions, how many an example goes through. */
  tried: z.object({ ways: z.int(), of: z.int(), examples: z.int() }),
  numbers: workflowNumbers,
  earned,
  changedAt: z.int(),
})
export type WorkflowListItem = z.infer<typeof workflowListItem>

/** What happened at one step, over all versions. */
export const stepNumbers = z.object({
  step: z.string(),
  waiting: z.int(),
  sent: z.int(),
  skipped: z.int(),
  left: z.int(),
  failed: z.int(),
  /** For steps that nobody reads: how often they were done. */
  done: z.int(),
})
export const branchNumbers = z.object({
  step: z.string(),
  branch: z.string().nullable(),
  taken: z.int(),
})

/**
 * A definition on its way out: it was checked on its way in. Checking it again on both sides took a
 * tenth of a second to open a long workflow on a slow machine.
 */
const checkedDefinition = z.custom<Definition>(
  (value) => typeof value === 'object' && value !== null,
)

export const askLiveBody = z.strictObject({ revision: z.int() })

export const workflowResponse = z.object({
  id: z.string(),
  state: workflowState,
  draft: checkedDefinition,
  draftRevision: z.int(),
  liveVersion: z.int().nullable(),
  live: checkedDefinition.nullable(),
  changedAt: z.int(),
  /** Where it takes two to go live: whether somebody has asked that this draft do; null where one is enough. */
  secondPerson: z
    .object({ asked: z.object({ name: z.string(), isOwn: z.boolean() }).nullable() })
    .nullable(),
})
export type WorkflowResponse = z.infer<typeof workflowResponse>

export const workflowNumbersResponse = z.object({
  total: workflowNumbers,
  steps: z.array(stepNumbers),
  branches: z.array(branchNumbers),
  /** Orders by people whose last message came from a step, or who had taken a path before it. */
  earned: z.object({
    steps: z.array(earned.extend({ step: z.string() })),
    branches: z.array(earned.extend({ step: z.string(), branch: z.string().nullable() })),
  }),
  /** How many left by each exclusion. */
  exclusions: z.array(z.object({ exclusion: z.string(), left: z.int() })),
  /** How many are in progress on versions before the live one. */
  onOlderVersions: z.int(),
})
export type WorkflowNumbersResponse = z.infer<typeof workflowNumbersResponse>

export const visitBody = z.object({
  /** Names this window for as long as it is open. */
  visit: z.string().min(8).max(40),
})

/** Who else has the workflow open, and the revision its draft has by now. */
export const visitResponse = z.object({
  /** `isSelf`: the same person in another window. */
  others: z.array(z.object({ name: z.string(), isSelf: z.boolean() })),
  draftRevision: z.int(),
})
export type VisitResponse = z.infer<typeof visitResponse>

/** What a workflow would have done over the last 90 days; null where that cannot be said. */
export const replayResponse = z
  .object({
    numbers: workflowNumbersResponse,
    since: z.int(),
    /** They are reckoned from one in so many people, drawn by lot; 1 for all. */
    oneIn: z.int(),
  })
  .nullable()

export const newWorkflowBody = z.object({ definition: definitionSchema })
export const saveDraftBody = z.object({
  /** The revision the changes were made on. */
  revision: z.int().min(0).max(MOST_INTEGER),
  definition: definitionSchema,
})
export const saveDraftResponse = z.object({ draftRevision: z.int() })
export const goLiveBody = z.object({
  revision: z.int().min(0).max(MOST_INTEGER),
  /** For triggers by date: lets those in as well whose moment was earlier today. */
  includeToday: z.boolean().default(false),
})

/** Whom going live now would pass over, since their moment was earlier today. */
export const passedOverResponse = z.object({ people: z.int(), firstAt: z.int().nullable() })

/** What becomes of overdue messages: sent, or passed over when more than so many hours late. */
export const resumeBody = z.object({
  skipLaterThanHours: z.number().min(0).max(8760).nullable().default(null),
})
/** What resuming sets going at once: in how many runs something is sent, and how many people leave instead. */
export const overdueResponse = z.object({
  overdue: z.int(),
  leaving: z.int(),
  oldestAt: z.int().nullable(),
})
export const retireBody = z.object({ endRuns: z.boolean() })
/** How many end: the first at once, many by and by. */
export const retireResponse = z.object({ ended: z.int() })
/** Who was moved at once, who stays since the step is gone, and who is still to have their turn. */
export const moveResponse = z.object({ moved: z.int(), stay: z.int(), left: z.int() })

/** What is being done to everybody in a workflow, and how far it has come. */
export const bulkChange = z.object({
  id: z.int(),
  kind: z.enum(['release', 'end', 'move']),
  toVersion: z.int().nullable(),
  people: z.int(),
  done: z.int(),
  stay: z.int(),
})
export type BulkChange = z.infer<typeof bulkChange>
export const bulkChangesResponse = z.array(bulkChange)
export const enterBody = z.object({
  /** Order numbers, or addresses or ids of customers, as the workflow’s trigger asks. */
  names: z.array(z.string().trim().min(1).max(254)).min(1).max(1000),
  /** Without regard to the entry rule. */
  override: z.boolean().default(false),
})
export const enterResponse = z.object({ entered: z.int(), turnedAway: z.int() })

/** A published state of a workflow, without its document. */
export const versionListItem = z.object({
  version: z.int(),
  publishedAt: z.int(),
  publishedBy: z.string(),
  /** How many people are in progress on it. */
  inProgress: z.int(),
})
export type VersionListItem = z.infer<typeof versionListItem>
export const versionResponse = z.object({ version: z.int(), definition: checkedDefinition })

/** What a workflow is called, for menus. */
export const workflowName = z.object({ id: z.string(), name: z.string() })

/** The workflows that are live, as far as another one has to know of them. */
export const liveWorkflow = z.object({
  id: z.string(),
  name: z.string(),
  definition: checkedDefinition,
})
