import type { Condition } from '../../core/conditions/condition.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { happened, leaveIf, NOT_ACTIVE, workflow } from '../../core/recipes/parts.ts'
import { MAREN, message, TIAGO } from './shared.ts'

const automatic: Condition = {
  kind: 'field',
  field: 'subscription.automatic',
  op: 'is',
  value: true,
}
/** Seven days before an automatic payment, at nine where the customer lives. */
export const renewalReminder: Definition = workflow({
  name: 'Renewal reminder',
  labels: ['Subscriptions'],
  description:
    'Seven days before the next payment, automatic renewals only: the amount, the date, how it is paid, where to change it.',
  priority: 70,
  trigger: {
    kind: 'date',
    field: 'subscription.nextPaymentAt',
    direction: 'before',
    days: 6,
    at: '08:30',
    zone: 'recipient',
    filter: automatic,
  },
  exclusions: [leaveIf('not-active', NOT_ACTIVE)],
  steps: [
    message('reminder', 'Payment in six days', {
      purpose: 'transactional',
      sender: TIAGO,
      subject:
        '{{ subscription.title }}: {{ subscription.amount }} on {{ subscription.next_payment_on | default: "its next date" }}',
      previewText: 'Nothing to do if all is well. Here is where to change it.',
      body: `Hello {{ customer.first_name | default: "there" }},

the next payment for {{ subscription.title }} is due on {{ subscription.next_payment_on | default: "its next date" }}: {{ subscription.amount }} by {{ subscription.payment_method | default: "the way you chose" }}.

Nothing to do if all is well. To change the date, the amount or the way it is paid, or to stop it: {{ subscription.url | default: "https://combwright.example/account" }}

Tiago`,
    }),
  ],
})

/** After a trial: how it went, and what comes next. */
export const trialEnded: Definition = workflow({
  name: 'After the trial',
  labels: ['Subscriptions'],
  description: 'When a trial of Hive Check ends: what was found, what goes on, how to stop it.',
  priority: 50,
  trigger: { kind: 'event', event: 'subscription.trial_ended' },
  entry: { rule: { kind: 'once' }, overlap: 'one' },
  exclusions: [leaveIf('not-active', NOT_ACTIVE)],
  steps: [
    message('what-next', 'Your trial is over', {
      purpose: 'transactional',
      sender: TIAGO,
      subject: 'Your trial of {{ subscription.title }} is over',
      body: `Hello {{ customer.first_name | default: "there" }},

the thirty days of {{ subscription.title }} are over. From now on it is {{ subscription.amount }} a {{ subscription.interval }}; the first payment is on {{ subscription.next_payment_on | default: "the date in your account" }}.

You can stop it at any time: {{ subscription.url | default: "https://combwright.example/account" }}

Tiago`,
    }),
  ],
})

/** From on hold to expired, or cancelled: an honest question, then an invitation. */
export const comeBack: Definition = workflow({
  name: 'Subscription ended',
  labels: ['Subscriptions'],
  description:
    'When a subscription is cancelled or ends: one question at once, an invitation five weeks later. Leaves when they subscribe again.',
  priority: 40,
  trigger: {
    kind: 'event',
    event: 'subscription.status_changed',
    to: ['cancelled', 'ended'],
  },
  entry: { rule: { kind: 'after', duration: 'P6M' }, overlap: 'one' },
  exclusions: [leaveIf('again', happened('subscription.created', 'customer'))],
  steps: [
    { key: 'an-hour', kind: 'wait', for: 'PT1H' },
    message('why', 'May I ask why?', {
      purpose: 'transactional',
      format: 'plain',
      sender: MAREN,
      subject: 'May I ask why?',
      body: `Hello {{ customer.first_name | default: "there" }},

your {{ subscription.title }} has ended. That is fine, and nothing more will be charged. May I ask why? One line is enough, and I read every one.

Maren`,
    }),
    { key: 'five-weeks', kind: 'wait', for: 'P5W', at: '19:10', weekdays: [3, 5, 7] },
    message('invitation', 'When the feed runs out', {
      sender: MAREN,
      subject: 'When the feed runs out',
      body: `Hello {{ customer.first_name | default: "there" }},

if you would like {{ subscription.title }} back, it is two clicks, and you can leave out months: https://combwright.example/feed-club

Maren`,
    }),
  ],
})

/** A renewal whose payment failed: help, a tag for the care team, and a wait for the payment. */
export const renewalFailed: Definition = workflow({
  name: 'Renewal payment failed',
  labels: ['Subscriptions', 'Recovery'],
  description:
    'Ten minutes after a renewal fails: help and a link. Tagged for the care team; three days to pay, then a last note. Leaves when it is renewed.',
  priority: 80,
  trigger: { kind: 'event', event: 'subscription.payment_failed' },
  entry: { rule: { kind: 'after', duration: 'P3D' }, overlap: 'one' },
  exclusions: [leaveIf('renewed', happened('subscription.renewed'))],
  steps: [
    { key: 'a-little', kind: 'wait', for: 'PT10M' },
    message('help', 'The payment did not go through', {
      purpose: 'transactional',
      sender: TIAGO,
      subject: '{{ subscription.title }}: the payment did not go through',
      body: `Hello {{ customer.first_name | default: "there" }},

the payment of {{ subscription.amount }} for {{ subscription.title }} did not go through. It happens; mostly a card has run out.

You can pay or change the card here: {{ subscription.url | default: "https://combwright.example/account" }}

Tiago`,
    }),
    { key: 'mark', kind: 'tag', change: 'add', tag: 'payment open' },
    {
      key: 'until-paid',
      kind: 'waitFor',
      event: 'subscription.renewed',
      about: 'subject',
      limit: 'P3D',
      came: [{ key: 'unmark', kind: 'tag', change: 'remove', tag: 'payment open' }],
      otherwise: [
        message('last', 'Shall we pause it?', {
          purpose: 'transactional',
          sender: TIAGO,
          subject: 'Shall we pause {{ subscription.title }}?',
          body: `Hello {{ customer.first_name | default: "there" }},

it is still open. I can pause {{ subscription.title }} until you are ready; just answer “pause”.

Tiago`,
        }),
      ],
    },
  ],
})
