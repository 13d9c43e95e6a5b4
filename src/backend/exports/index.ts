export { exportRows } from './exportRows.ts'
export { rowsAs } from './rowsAs.ts'
