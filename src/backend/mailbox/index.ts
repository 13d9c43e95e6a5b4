export { findMail, mailPage, rawMail, storeMail } from './store.ts'
