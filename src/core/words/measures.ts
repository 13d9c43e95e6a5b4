import type { SkipReason } from '../workflow/decision.ts'

/** What is measured of a message, in the order of its way. */
export type Measure =
  | 'reached'
  | 'sent'
  | 'delivered'
  | 'opened'
  | 'clicked'
  | 'ordered'
  | 'revenue'
  | 'replied'
  | 'unsubscribed'
  | 'complained'
  | 'notSent'

interface MeasureWords {
  label: string
  /** What it counts. */
  means: string
}

const words = (label: string, means: string): MeasureWords => ({ label, means })

/** Each measure once: the screens and docs/measures.md say this. */
export const MEASURES: Readonly<Record<Measure, MeasureWords>> = {
  reached: words(
    'Came to it',
    'Ways through the workflow on which it was decided whether it is sent.',
  ),
  sent: words(
    'Sent',
    'Handed over to the mail server or the text gateway, of those who came to it.',
  ),
  delivered: words('Delivered', 'Sent, and not come back, of those sent.'),
  opened: words(
    'Opened',
    'Seen at least once, of those delivered. Unreliable: many mail programs fetch pictures by themselves, others never do. What was only fetched by a program, within ten seconds and not seen again, is told beside it.',
  ),
  clicked: words(
    'Clicked',
    'A link in it was followed at least once, of those delivered. Several links followed within ten seconds are a program that looks at them, and count for nothing by themselves.',
  ),
  ordered: words(
    'Ordered',
    'Ordered within seven days after it, and it was the last message before that order; of those delivered. What was cancelled or refunded counts for nothing.',
  ),
  revenue: words(
    'Revenue',
    'What those orders came to, in the shop’s currency; others are left out.',
  ),
  replied: words(
    'Answered',
    'Somebody wrote back to this very message, as reported by the shop; of those delivered.',
  ),
  unsubscribed: words('Unsubscribed', 'Reported for this very message, of those delivered.'),
  complained: words(
    'Complained',
    'Reported as unwanted for this very message, of those delivered.',
  ),
  notSent: words('Not sent', 'Came to it and did not get it, by the reason that the ledger gives.'),
}

/** Why a message was not sent, in a few words. */
export const NOT_SENT_WORDS: Readonly<Record<SkipReason['code'] | 'left', string>> = {
  left: 'left there',
  exclusion: 'excluded',
  onlyIf: 'not as it asks',
  datePast: 'its date was past',
  tooLate: 'too late after a pause',
  noAddress: 'no address',
  suppressed: 'unsubscribed or unreachable',
  noConsent: 'no consent',
  alreadySent: 'sent before',
  gap: 'too soon after another',
  cap: 'has had enough marketing',
  quiet: 'quiet was asked for',
  holdout: 'held out, to compare',
}
