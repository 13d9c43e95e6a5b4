export { tableState, type TableState } from './migrations.ts'
export { openMessages, workState, type WorkState } from './state.ts'
