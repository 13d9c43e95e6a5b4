export {
  createWorkflow,
  deleteDraft,
  findWorkflow,
  goLive,
  listWorkflows,
  pauseWorkflow,
  resumeWorkflow,
  saveDraft,
  type WorkflowRow,
} from './store.ts'
export { noNumbers, numbersOf, numbersOfAll } from './numbers.ts'
