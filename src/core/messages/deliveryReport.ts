/** What a report says became of a mail, by the standards' own words. */
export type MailReport =
  /** RFC 3464: it was given up. `deadAddress` when there is no such mailbox or domain. */
  | { kind: 'bounced'; status: string; deadAddress: boolean; detail: string }
  /** RFC 3464: it may yet arrive. */
  | { kind: 'delayed'; status: string }
  /** RFC 5965: the recipient says it is spam. */
  | { kind: 'complained' }

const FIELD = /^([A-Za-z][A-Za-z-]*):[ \t]*(.*(?:\r?\n[ \t]+.*)*)$/gm

/** The fields of one group of a report, names in lower case; folded lines are joined. */
function fieldsOf(group: string): Map<string, string> {
  return new Map(
    [...group.matchAll(FIELD)].map((match) => [
      (match[1] ?? '').toLowerCase(),
      (match[2] ?? '').replaceAll(/\r?\n[ \t]+/g, ' ').trim(),
    ]),
  )
}

/** A status code of RFC 3463: class, subject, detail, each without a leading zero. */
const STATUS = /^([245])\.(\d{1,3})\.(\d{1,3})\b/

/**
 * Reads the `message/delivery-status` part of a report (RFC 3464 section 2): a group about the mail,
 * then one for each recipient. Action says whether it was given up, Status why (RFC 3463): only a bad
 * mailbox or domain (x.1.1, x.1.2, x.1.3, x.1.6, x.1.10) of class 5 makes an address dead; a full
 * mailbox or a policy does not. Null when no recipient's fields are as the standard has them.
 */
export function readDeliveryStatus(text: string): MailReport | null {
  const groups = text.split(/\r?\n[ \t]*\r?\n/).map(fieldsOf)
  const recipient = groups.find((fields) => fields.has('action') && fields.has('status'))
  const status = STATUS.exec(recipient?.get('status') ?? '')
  if (!recipient || !status) return null
  const [code] = status
  const action = recipient.get('action')?.toLowerCase()
  if (action === 'delayed') return { kind: 'delayed', status: code }
  if (action !== 'failed') return null
  const diagnostic = recipient.get('diagnostic-code') ?? ''
  return { kind: 'bounced', status: code, deadAddress: isDead(status), detail: diagnostic }
}

const DEAD_DETAILS: ReadonlySet<string> = new Set(['1', '2', '3', '6', '10'])

const isDead = ([, group, subject, detail]: RegExpExecArray): boolean =>
  group === '5' && subject === '1' && DEAD_DETAILS.has(detail ?? '')

/** A mail that came to a return path and is no report as the standards have it. */
export interface ReturnedMail {
  /** The address of who wrote it; empty where there is none. */
  from: string
  /** It came with an empty return path of its own, as bounces do (RFC 5321 section 4.5.5). */
  isNullSender: boolean
  /** The value of `Auto-Submitted` (RFC 3834); null where it has none. */
  autoSubmitted: string | null
  text: string
}

const POSTMASTERS = /^(mailer-daemon|postmaster)@/i
const STATUS_IN_TEXT = /(?<![\d.])([245])\.(\d{1,3})\.(\d{1,3})(?![\d.])/

/**
 * Reads a bounce that a mail server wrote in its own words, by who wrote it and the first status code (RFC 3463) in it; one without
 * a code is no reason to write to nobody any more. Null for what people, and their notes of absence (RFC 3834), write.
 */
export function readReturnedMail(mail: ReturnedMail): MailReport | null {
  if (mail.autoSubmitted?.toLowerCase().startsWith('auto-replied')) return null
  if (!mail.isNullSender && !POSTMASTERS.test(mail.from)) return null
  const status = STATUS_IN_TEXT.exec(mail.text)
  if (status?.[1] === '2') return null
  if (status?.[1] === '4') return { kind: 'delayed', status: status[0] }
  return {
    kind: 'bounced',
    status: status?.[0] ?? '',
    deadAddress: status !== null && isDead(status),
    detail: '',
  }
}

/** Reads the `message/feedback-report` part of a complaint (RFC 5965 section 3); null for other kinds. */
export function readFeedbackReport(text: string): MailReport | null {
  const type = fieldsOf(text).get('feedback-type')?.toLowerCase()
  return type === 'abuse' ? { kind: 'complained' } : null
}
