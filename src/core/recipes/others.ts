import { buttonTo, designed, email, heading, HELP, ITEMS, says } from './messages.ts'
import { happened, leaveIf, MONTHLY, wait, workflow, type Recipe } from './parts.ts'

/** Workflows about what was left unfinished, about subscriptions, and for staff. */
export const OTHER_RECIPES: readonly Recipe[] = [
  {
    key: 'basket',
    purpose: 'Four hours after something was put in a basket; leaves on an order, or a checkout.',
    make: (shop) =>
      workflow({
        name: 'Open basket',
        description: 'Leaves on an order, and when a checkout is started: that has its own workflow.',
        labels: ['Recovery'],
        priority: 30,
        trigger: { kind: 'event', event: 'basket.item_added' },
        entry: MONTHLY,
        exclusions: [
          leaveIf('ordered', happened('order.placed', 'customer')),
          leaveIf('checkout', happened('checkout.started', 'customer')),
        ],
        steps: [
          wait('four-hours', 'PT4H'),
          designed('kept', 'Kept for you', shop, {
            purpose: 'marketing',
            subject: 'Still in your basket',
            previewText: 'Kept as you left it.',
          }, [
            heading('Kept for you'),
            says('these', 'these are still in your basket:'),
            ITEMS,
            buttonTo('basket.url', 'Go on where you were', shop),
          ]),
        ],
      }),
  },
  {
    key: 'checkout',
    purpose: 'Large ones after six hours, others after 45 minutes; the next day at eleven once more.',
    make: (shop) =>
      workflow({
        name: 'Open checkout',
        description: 'A large purchase takes longer to decide. Leaves on any order.',
        labels: ['Recovery'],
        priority: 60,
        trigger: { kind: 'event', event: 'checkout.started' },
        entry: MONTHLY,
        exclusions: [leaveIf('ordered', happened('order.placed', 'customer'))],
        steps: [
          {
            key: 'value',
            kind: 'split',
            branches: [
              {
                key: 'large',
                name: 'Large',
                when: { kind: 'field', field: 'checkout.total', op: 'gte', value: { amountMinor: 15_000, currency: shop.currency } },
                steps: [
                  wait('six-hours', 'PT6H'),
                  email('by-hand', 'A person writes', shop, {
                    purpose: 'marketing',
                    subject: 'Can I help with your choice?',
                    body: 'you were looking at:\n\n{{ checkout.items }}\n\nThat is not bought in a minute. If you are unsure about anything, just ask.',
                  }),
                ],
              },
            ],
            otherwise: [
              wait('soon', 'PT45M'),
              designed('in-the-way', 'Was something in the way?', shop, {
                purpose: 'marketing',
                subject: 'Was something in the way?',
                previewText: 'Your checkout is still open.',
              }, [
                heading('Was something in the way?'),
                says('open', 'your checkout is still open:'),
                ITEMS,
                buttonTo('checkout.url', 'Finish your order', shop),
                HELP,
              ]),
            ],
          },
          { key: 'next-day', kind: 'wait', for: 'P1D', at: '11:00', onDay: true },
          designed('last', 'Last reminder', shop, {
            purpose: 'marketing',
            subject: 'We keep it until tonight',
            previewText: 'After today we write no more about it.',
          }, [
            heading('Kept until tonight'),
            says('open', 'your checkout of {{ checkout.total }} is still open. After today we write no more about it.'),
            ITEMS,
            buttonTo('checkout.url', 'Finish your order', shop),
          ]),
        ],
      }),
  },
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
          days: 7,
          at: '09:00',
          zone: 'recipient',
          filter: { kind: 'field', field: 'subscription.automatic', op: 'is', value: true },
        },
        steps: [
          designed('reminder', 'Payment in a week', shop, {
            subject: '{{ subscription.title }}: {{ subscription.amount }} in a week',
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
    key: 'class',
    purpose: 'For every booked date: at once, and what to bring two days before, at nine.',
    make: (shop) =>
      workflow({
        name: 'Before a date',
        description: 'For each line with a date: the confirmation, then what to bring.',
        labels: ['Products'],
        priority: 70,
        trigger: {
          kind: 'event',
          event: 'order.placed',
          per: 'line',
          filter: { kind: 'field', field: 'line.startsAt', op: 'known' },
        },
        exclusions: [
          leaveIf('cancelled', happened('order.cancelled')),
          leaveIf('refunded', happened('order.refunded')),
        ],
        steps: [
          designed('kept', 'Your place is kept', shop, {
            subject: 'Your place: {{ line.title }}',
            previewText: '{{ line.starts_at | default: "On the day you chose." }}',
          }, [
            heading('Your place is kept'),
            says('what', '{{ line.title }}:', '{{ line.starts_at | default: "on the day you chose" | as: "weekday" }}, {{ line.starts_at | default: "at the hour you know" | as: "hour" }}.'),
            HELP,
          ]),
          {
            key: 'two-days-before',
            kind: 'until',
            until: { kind: 'field', field: 'line.startsAt', offset: { direction: 'before', duration: 'P2D' }, at: '09:00' },
            ifPast: 'skipNext',
          },
          designed('bring', 'What to bring', shop, {
            subject: 'In two days: what to bring',
            previewText: '{{ line.title }}',
          }, [
            heading('In two days'),
            says('what', '{{ line.title }} begins on {{ line.starts_at | default: "the day you chose" | as: "weekday" }}. Bring …'),
            HELP,
          ]),
        ],
      }),
  },
  {
    key: 'large-order',
    purpose: 'A note to staff about each large order, at once, so that somebody can call.',
    make: (shop) =>
      workflow({
        name: 'Staff: large order',
        description: 'Somebody calls and says thank you.',
        labels: ['Staff'],
        priority: 90,
        trigger: {
          kind: 'event',
          event: 'order.placed',
          filter: { kind: 'field', field: 'order.total', op: 'gt', value: { amountMinor: 40_000, currency: shop.currency } },
        },
        steps: [
          {
            key: 'call',
            kind: 'note',
            name: 'Call them',
            to: [shop.sender.address],
            subject: 'Order {{ order.number }}: {{ order.total }}',
            body: 'A large order from {{ customer.first_name | default: "somebody" }} ({{ customer.email }}):\n\n{{ order.items }}',
          },
        ],
      }),
  },
] // prettier-ignore
