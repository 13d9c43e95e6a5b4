export { exportRows } from './exportRows.ts'
