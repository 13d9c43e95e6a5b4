export {
  createWorkflow,
  deleteDraft,
  findWorkflow,
  askLive,
  goLive,
  listWorkflows,
  lockWorkflow,
  workflowNames,
  saveDraft,
  type WorkflowRow,
} from './store.ts'
export { findVersion, listVersions } from './versions.ts'
export { doTo, workOff } from './bulk.ts'
export { pauseWorkflow, resumeWorkflow, retireWorkflow } from './states.ts'
export { sentBeside } from './beside.ts'
export { COUNTS, earnedSince } from './earned.ts'
export { workflowExperiments } from './experiments.ts'
export { holdoutReports } from './shopHoldout.ts'
export { decideTest, listTestDecisions } from './testDecisions.ts'
export { messageDetail } from './results/message.ts'
export { daysHolding, peopleBehind } from './results/people.ts'
export { resultsWithNumbers, workflowResults, type CountsOf } from './results/results.ts'
export { countRolledUp } from './results/rolledUp.ts'
export { endVisit, noteVisit } from './visits.ts'
export { noNumbers, numbersOf, numbersOfAll } from './numbers.ts'
