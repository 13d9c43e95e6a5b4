export { escapeHtml } from './letterHtml.ts'
export { renderEmail, RenderError } from './render.ts'
export { smtpMailer, type HandOver, type Mailer, type OutgoingMail } from './smtp.ts'
export {
  readUnsubscribeToken,
  suppressBounced,
  unsubscribe,
  unsubscribeToken,
} from './unsubscribe.ts'
