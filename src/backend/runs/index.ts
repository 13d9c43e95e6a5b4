export { outstandingUpTo } from './outstanding.ts'
export { attentionList } from './attention.ts'
export { ledgerPage, saidOf } from './ledgerPage.ts'
export { wordsFor } from './titles.ts'
export { runPage } from './runPage.ts'
export { appendLedger, type LedgerRow } from './ledger.ts'
export {
  claimDue,
  endRun,
  findRun,
  holdRuns,
  releaseRuns,
  heldAndDue,
  insertRuns,
  keepStanding,
  lockRun,
  setParked,
  setVersion,
  unstick,
  wakeRuns,
  type KeptRun,
  type RunRef,
} from './store.ts'
export {
  beginBulk,
  endBulk,
  isAhead,
  nextOfBulk,
  noteBulk,
  openBulk,
  takeBulk,
  workflowsWithBulk,
  type BulkChange,
} from './bulkChanges.ts'
export { whatCameOf } from './occasions.ts'
