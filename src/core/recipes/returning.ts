import type { Condition } from '../conditions/condition.ts'
import { buttonTo, designed, email, heading, HELP, products, says } from './messages.ts'
import { happened, leaveIf, ordersEver, UNDONE, wait, workflow, type Recipe } from './parts.ts'

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
          designed('begin', 'Where to begin', shop, {
            subject: `Before ${shop.product.title} arrives`,
            previewText: 'This is where to begin.',
          }, [
            heading('Where to begin'),
            says('begin', `${shop.product.title} is on its way soon. This is where to begin: …`),
            HELP,
          ]),
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
          designed('one-thing', 'One thing to know', shop, {
            purpose: 'marketing',
            subject: 'One thing we wish we had known',
            previewText: 'Most people find it out late.',
          }, [
            heading('One thing to know'),
            says('advice', 'you have had our parcel for a while. One thing that most people find out late: …'),
          ]),
          { key: 'two-more-weeks', kind: 'wait', for: 'P14D', at: '10:00', weekdays: [2, 3, 4] },
          designed('invitation', 'Come again', shop, {
            purpose: 'marketing',
            subject: 'What goes well with it',
            previewText: 'What others took next.',
          }, [
            heading('What goes well with it'),
            says('next', 'those who bought {{ order.items | as: "names" }} mostly took one of these next:'),
            products('together'),
          ]),
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
          designed('help', 'The payment did not go through', shop, {
            subject: '{{ subscription.title }}: the payment did not go through',
            previewText: 'Mostly a card has run out.',
          }, [
            heading('The payment did not go through'),
            says('what', 'the payment of {{ subscription.amount }} for {{ subscription.title }} did not go through. Mostly a card has run out.'),
            buttonTo('subscription.url', 'Pay, or change the card', shop),
            HELP,
          ]),
          wait('three-days', 'P3D'),
          designed('last', 'Shall we pause it?', shop, {
            subject: 'Shall we pause {{ subscription.title }}?',
            previewText: 'Until you are ready.',
          }, [
            heading('Shall we pause it?'),
            says('what', 'the payment of {{ subscription.amount }} is still open. We can pause it until you are ready; just answer “pause”.'),
            buttonTo('subscription.url', 'Pay, or change the card', shop),
          ]),
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
          designed('what-next', 'Your trial is over', shop, {
            subject: 'Your trial of {{ subscription.title }} is over',
            previewText: 'What it costs from now on, and how to stop it.',
          }, [
            heading('Your trial is over'),
            says('what', 'from now on {{ subscription.title }} is {{ subscription.amount }} a {{ subscription.interval }}; the first payment is on {{ subscription.next_payment_on | default: "the date in your account" }}.'),
            buttonTo('subscription.url', 'Go on, or stop it', shop),
            HELP,
          ]),
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
            subject: 'May I ask why?',
            body: 'your {{ subscription.title }} has ended, and nothing more will be charged. May I ask why? One line is enough.',
          }),
          { key: 'a-month', kind: 'wait', for: 'P1M', at: '11:00', weekdays: [2, 3, 4] },
          designed('come-back', 'If you would like it back', shop, {
            purpose: 'marketing',
            subject: 'If you would like {{ subscription.title }} back',
            previewText: 'It is two clicks.',
          }, [
            heading('If you would like it back'),
            says('what', 'everything is as it was. It is two clicks:'),
            buttonTo('subscription.url', 'Start it again', shop),
          ]),
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
