export { escapeHtml } from './letterHtml.ts'
export { renderEmail, renderNote, renderSms, RenderError } from './render.ts'
export { httpSmsGateway, type SmsGateway } from './sms.ts'
export { smtpMailer, type Mailer } from './smtp.ts'
export {
  readUnsubscribeToken,
  suppressBounced,
  unsubscribe,
  unsubscribeToken,
} from './unsubscribe.ts'
export { readReport } from './reports.ts'
