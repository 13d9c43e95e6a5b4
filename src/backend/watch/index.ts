export { tableState } from './migrations.ts'
export { openMessages, workState } from './state.ts'
