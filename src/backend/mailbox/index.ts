export { findMail, mailPage, rawMail, storeMail, storeText } from './store.ts'
