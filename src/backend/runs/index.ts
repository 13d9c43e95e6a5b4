export { attentionList } from './attention.ts'
export { ledgerPage } from './ledgerPage.ts'
export { runPage } from './runPage.ts'
