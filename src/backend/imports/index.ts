export { runImport, tryImport } from './run.ts'
export { firstRows } from './rows.ts'
export { beginImport, findImport, keepFile, listImports, refusedRows, setReading } from './store.ts'
export { undoImport } from './undo.ts'
