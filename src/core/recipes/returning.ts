import type { Condition } from '../conditions/condition.ts'
import {
  email,
  happened,
  leaveIf,
  ordersEver,
  UNDONE,
  wait,
  workflow,
  type Recipe,
} from './parts.ts'

const notActive: Condition = {
  kind: 'not',
  of: { kind: 'field', field: 'subscription.status', op: 'in', value: ['active', 'trial'] },
}

/** Workflows that bring people back: after a first order, after long silence, after an ended subscription. */
export const RETURNING_RECIPES: readonly Recipe[] = [
  {
    key: 'by-product',
    purpose: 'For each buyer of one product: where to begin, at once, and a follow-up after a week. Copy it for the next product.',
    asks: 'product',
    make: (shop) =>
      workflow({
        name: `By product: ${shop.product.title}`.slice(0, 120),
        description: `Where to begin with ${shop.product.title}, and how it went.`,
        labels: ['Products'],
        priority: 60,
        trigger: {
          kind: 'event',
          event: 'order.placed',
          filter: { kind: 'field', field: 'order.products', op: 'hasAny', value: [shop.product.id] },
        },
        exclusions: [...UNDONE],
        steps: [
          email('begin', 'Where to begin', shop, {
            subject: `Before ${shop.product.title} arrives`,
            body: `${shop.product.title} is on its way soon. This is where to begin: …`,
          }),
          { key: 'a-week', kind: 'wait', for: 'P7D', at: '10:00', weekdays: [1, 2, 3, 4, 5] },
          email('how-is-it', 'How is it going?', shop, {
            purpose: 'marketing',
            subject: `How is it going with ${shop.product.title}?`,
            body: 'most questions come up in the first week. Answer this mail with yours.',
          }),
        ],
      }),
  },
  {
    key: 'first-to-second',
    purpose: 'Advice two weeks after a first order, an invitation two weeks later. Leaves when they order again.',
    make: (shop) =>
      workflow({
        name: 'First order to second',
        description: 'For those who have ordered once. Leaves on the next order.',
        labels: ['Orders'],
        priority: 30,
        trigger: { kind: 'event', event: 'order.placed', filter: ordersEver(1) },
        entry: { rule: { kind: 'once' }, overlap: 'one' },
        exclusions: [...UNDONE, leaveIf('ordered-again', happened('order.placed', 'customer'))],
        steps: [
          { key: 'two-weeks', kind: 'wait', for: 'P14D', at: '10:00', weekdays: [2, 3, 4] },
          email('one-thing', 'One thing to know', shop, {
            purpose: 'marketing',
            subject: 'One thing we wish we had known',
            body: 'you have had our parcel for a while. One thing that most people find out late: …',
          }),
          { key: 'two-more-weeks', kind: 'wait', for: 'P14D', at: '10:00', weekdays: [2, 3, 4] },
          email('invitation', 'Come again', shop, {
            purpose: 'marketing',
            subject: 'What goes well with it',
            body: 'those who bought the same mostly took one of these next: …',
          }),
        ],
      }),
  },
  {
    key: 'silence',
    purpose: 'Half a year after the last order: one letter by a person, and then nothing more.',
    make: (shop) =>
      workflow({
        name: 'Long silence',
        description: 'Half a year without an order: one plain letter.',
        labels: ['Recovery'],
        priority: 20,
        trigger: {
          kind: 'date',
          field: 'customer.lastOrderAt',
          direction: 'after',
          days: 180,
          at: '10:00',
          zone: 'recipient',
        },
        steps: [
          email('still-there', 'Are you well?', shop, {
            purpose: 'marketing',
            format: 'plain',
            subject: 'It has been half a year',
            body: 'we have not heard from each other for half a year. Is anything not as you would like it? One line is enough; I read it myself.',
          }),
        ],
      }),
  },
  {
    key: 'renewal-failed',
    purpose: 'Ten minutes after the payment of a renewal fails: help. Waits three days for it, then asks once more.',
    make: (shop) =>
      workflow({
        name: 'Renewal payment failed',
        description: 'Help with a payment that failed. Leaves when it is renewed.',
        labels: ['Subscriptions', 'Recovery'],
        priority: 80,
        trigger: { kind: 'event', event: 'subscription.payment_failed' },
        entry: { rule: { kind: 'after', duration: 'P3D' }, overlap: 'one' },
        exclusions: [leaveIf('renewed', happened('subscription.renewed'))],
        steps: [
          wait('a-little', 'PT10M'),
          email('help', 'The payment did not go through', shop, {
            subject: '{{ subscription.title }}: the payment did not go through',
            body: 'the payment of {{ subscription.amount }} for {{ subscription.title }} did not go through. Mostly a card has run out.\n\nPay or change the card here: {{ subscription.url | default: "in your account" }}',
          }),
          wait('three-days', 'P3D'),
          email('last', 'Shall we pause it?', shop, {
            subject: 'Shall we pause {{ subscription.title }}?',
            body: 'it is still open. We can pause it until you are ready; just answer “pause”.',
          }),
        ],
      }),
  },
  {
    key: 'trial-ended',
    purpose: 'When a trial ends: what it costs from now on, from which day, and how to stop it.',
    make: (shop) =>
      workflow({
        name: 'After the trial',
        description: 'What goes on after a trial, and how to stop it.',
        labels: ['Subscriptions'],
        trigger: { kind: 'event', event: 'subscription.trial_ended' },
        entry: { rule: { kind: 'once' }, overlap: 'one' },
        exclusions: [leaveIf('not-active', notActive)],
        steps: [
          email('what-next', 'Your trial is over', shop, {
            subject: 'Your trial of {{ subscription.title }} is over',
            body: 'from now on {{ subscription.title }} is {{ subscription.amount }} a {{ subscription.interval }}; the first payment is on {{ subscription.next_payment_on | default: "the date in your account" }}.\n\nStop it at any time: {{ subscription.url | default: "in your account" }}',
          }),
        ],
      }),
  },
  {
    key: 'subscription-ended',
    purpose: 'When a subscription is cancelled or expires: one honest question, an invitation a month later.',
    make: (shop) =>
      workflow({
        name: 'Subscription ended',
        description: 'A question at once, an invitation a month later. Leaves when they subscribe again.',
        labels: ['Subscriptions'],
        priority: 40,
        trigger: {
          kind: 'event',
          event: 'subscription.status_changed',
          to: ['cancelled', 'expired'],
        },
        entry: { rule: { kind: 'after', duration: 'P6M' }, overlap: 'one' },
        exclusions: [leaveIf('again', happened('subscription.created', 'customer'))],
        steps: [
          wait('an-hour', 'PT1H'),
          email('why', 'May I ask why?', shop, {
            format: 'plain',
            subject: 'May I ask why?',
            body: 'your {{ subscription.title }} has ended, and nothing more will be charged. May I ask why? One line is enough.',
          }),
          { key: 'a-month', kind: 'wait', for: 'P1M', at: '11:00', weekdays: [2, 3, 4] },
          email('come-back', 'If you would like it back', shop, {
            purpose: 'marketing',
            subject: 'If you would like {{ subscription.title }} back',
            body: 'it is two clicks: {{ subscription.url | default: "in your account" }}',
          }),
        ],
      }),
  },
  {
    key: 'bad-review',
    purpose: 'A note to staff about each review of one or two stars, so that it is answered the same day.',
    make: (shop) =>
      workflow({
        name: 'Staff: unhappy review',
        description: 'Somebody answers it the same day.',
        labels: ['Staff', 'Reviews'],
        priority: 60,
        trigger: {
          kind: 'event',
          event: 'review.submitted',
          filter: { kind: 'field', field: 'review.stars', op: 'lte', value: 2 },
        },
        steps: [
          {
            key: 'answer',
            kind: 'note',
            name: 'Answer it today',
            to: [shop.sender.address],
            subject: '{{ review.stars }} of 5 from {{ customer.email }}',
            body: '“{{ review.text | default: "no words" }}”\n\nPlease answer it today.',
          },
        ],
      }),
  },
] // prettier-ignore
