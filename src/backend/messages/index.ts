export { escapeHtml } from './html.ts'
export { MAX_HTML_BYTES } from './design/index.ts'
export { renderEmail, renderNote, renderSms } from './render.ts'
export { RenderError } from './renderError.ts'
export {
  findFollowed,
  findShortLink,
  findTarget,
  followToken,
  keepTargets,
  readFollowToken,
  shortLink,
  targetOf,
  type Followed,
} from './links/follow.ts'
export { rewriteHtml, urlsIn, withShortLinks } from './links/rewrite.ts'
export { attachmentsOf } from './attachments.ts'
export { readDkim } from './dkim.ts'
export { httpSmsGateway, type SmsGateway } from './sms.ts'
export { composeMail, smtpMailer, type Attachment, type Mailer, type OutgoingMail } from './smtp.ts'
export {
  customersWithMobile,
  preferencesOf,
  keepWayOut,
  findUnsubscriber,
  unsubscribeToken,
  type Preferences,
  type Unsubscriber,
} from './unsubscribe.ts'
export {
  changeDesign,
  designUses,
  findDesign,
  keepDesign,
  listDesigns,
  removeDesign,
  renameDesign,
} from './designs.ts'
export { changeKept, keepBlocks, listSaved, keptBlocks } from './kept.ts'
export { messageState } from './state.ts'
export { messageOf, readReport } from './reports.ts'
export { returnPathOf } from './returnPath.ts'
export {
  changeMessage,
  lockAbandoned,
  lockMessage,
  nextQueued,
  queueMessages,
  releaseHeld,
  skipRest,
  type MessageRow,
  type NewMessage,
} from './queue.ts'
