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
  const [code, group, subject, detail] = status
  const action = recipient.get('action')?.toLowerCase()
  if (action === 'delayed') return { kind: 'delayed', status: code }
  if (action !== 'failed') return null
  const deadAddress = group === '5' && subject === '1' && DEAD_DETAILS.has(detail ?? '')
  const diagnostic = recipient.get('diagnostic-code') ?? ''
  return { kind: 'bounced', status: code, deadAddress, detail: diagnostic }
}

const DEAD_DETAILS: ReadonlySet<string> = new Set(['1', '2', '3', '6', '10'])

/** Reads the `message/feedback-report` part of a complaint (RFC 5965 section 3); null for other kinds. */
export function readFeedbackReport(text: string): MailReport | null {
  const type = fieldsOf(text).get('feedback-type')?.toLowerCase()
  return type === 'abuse' ? { kind: 'complained' } : null
}
