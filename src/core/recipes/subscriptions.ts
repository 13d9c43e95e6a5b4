import { buttonTo, designed, email, heading, HELP, says } from './messages.ts'
import { happened, leaveIf, NOT_ACTIVE, wait, workflow, type Recipe } from './parts.ts'

/** Workflows about what is paid again and again. */
export const SUBSCRIPTION_RECIPES: readonly Recipe[] = [
  {
    key: 'renewal',
    purpose: 'Seven days before the next payment: amount, date, method. Automatic renewals only.',
    make: (shop) =>
      workflow({
        name: 'Renewal reminder',
        description: 'Seven days before the next payment, automatic renewals only.',
        labels: ['Subscriptions'],
        priority: 70,
        trigger: {
          kind: 'date',
          field: 'subscription.nextPaymentAt',
          direction: 'before',
          days: 6,
          at: '08:30',
          zone: 'recipient',
          filter: { kind: 'field', field: 'subscription.automatic', op: 'is', value: true },
        },
        steps: [
          designed('reminder', 'Payment in six days', shop, {
            subject: '{{ subscription.title }}: {{ subscription.amount }} in six days',
            previewText: 'Nothing to do, unless you want to change something.',
          }, [
            heading('Your next payment'),
            says('what', 'the next payment for {{ subscription.title }} is {{ subscription.amount }}, on {{ subscription.next_payment_on | default: "the day you know" | as: "weekday" }}, by {{ subscription.payment_method | default: "the method you chose" }}.'),
            buttonTo('subscription.url', 'Change or end it', shop),
            HELP,
          ]),
        ],
      }),
  },
  {
    key: 'before-end',
    purpose: 'Two weeks before a subscription ends by itself: what ends, on which day, and how to go on.',
    make: (shop) =>
      workflow({
        name: 'Before a subscription ends',
        description: 'Two weeks before the end of those that do not renew by themselves.',
        labels: ['Subscriptions'],
        priority: 60,
        trigger: {
          kind: 'date',
          field: 'subscription.endsAt',
          direction: 'before',
          days: 14,
          at: '08:30',
          zone: 'recipient',
          filter: { kind: 'field', field: 'subscription.automatic', op: 'is', value: false },
        },
        exclusions: [leaveIf('not-active', NOT_ACTIVE)],
        steps: [
          designed('ends', 'It ends in two weeks', shop, {
            subject: '{{ subscription.title }} ends in two weeks',
            previewText: 'Nothing is charged unless you go on.',
          }, [
            heading('It ends in two weeks'),
            says('what', '{{ subscription.title }} ends on {{ subscription.ends_on | default: "the day in your account" | as: "weekday" }}, and nothing more is charged. If you would like to go on, it is {{ subscription.amount }} a {{ subscription.interval }}:'),
            buttonTo('subscription.url', 'Go on with it', shop),
            HELP,
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
        exclusions: [leaveIf('not-active', NOT_ACTIVE)],
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
    purpose: 'When a subscription is cancelled or ends: one honest question, an invitation five weeks later.',
    make: (shop) =>
      workflow({
        name: 'Subscription ended',
        description: 'A question at once, an invitation five weeks later. Leaves when they subscribe again.',
        labels: ['Subscriptions'],
        priority: 40,
        trigger: {
          kind: 'event',
          event: 'subscription.status_changed',
          to: ['cancelled', 'ended'],
        },
        entry: { rule: { kind: 'after', duration: 'P6M' }, overlap: 'one' },
        exclusions: [leaveIf('again', happened('subscription.created', 'customer'))],
        steps: [
          wait('an-hour', 'PT1H'),
          email('why', 'May I ask why?', shop, {
            subject: 'May I ask why?',
            body: 'your {{ subscription.title }} has ended, and nothing more will be charged. May I ask why? One line is enough.',
          }),
          { key: 'five-weeks', kind: 'wait', for: 'P5W', at: '19:10', weekdays: [3, 5, 7] },
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
    key: 'renewal-failed',
    purpose: 'Ten minutes after the payment of a renewal fails: help, and a tag for those who look after it. Three days later once more, unless it is paid.',
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
          { key: 'mark', kind: 'tag', change: 'add', tag: 'payment open' },
          {
            key: 'until-paid',
            kind: 'waitFor',
            event: 'subscription.renewed',
            about: 'subject',
            limit: 'P3D',
            came: [{ key: 'unmark', kind: 'tag', change: 'remove', tag: 'payment open' }],
            otherwise: [designed('last', 'Shall we pause it?', shop, {
            subject: 'Shall we pause {{ subscription.title }}?',
            previewText: 'Until you are ready.',
          }, [
            heading('Shall we pause it?'),
            says('what', 'the payment of {{ subscription.amount }} is still open. We can pause it until you are ready; just answer “pause”.'),
            buttonTo('subscription.url', 'Pay, or change the card', shop),
          ])],
          },
        ],
      }),
  },
] // prettier-ignore
