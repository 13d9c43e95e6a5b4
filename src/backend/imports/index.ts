export { runImport, tryImport, type DryRun } from './run.ts'
export { firstRows } from './rows.ts'
export {
  beginImport,
  findImport,
  keepFile,
  listImports,
  refusedRows,
  setReading,
  type Import,
} from './store.ts'
export { undoImport } from './undo.ts'
