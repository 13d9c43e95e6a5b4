import { afterDispatch } from './afterDispatch.ts'
import { designed, email, heading, HELP, ITEMS, says, SUMMARY } from './messages.ts'
import { happened, leaveIf, ordersEver, UNDONE, wait, workflow, type Recipe } from './parts.ts'

/** Workflows that follow an order. */
export const ORDER_RECIPES: readonly Recipe[] = [
  {
    key: 'confirmation',
    purpose: 'What was ordered and what happens next, at once, for every order.',
    make: (shop) =>
      workflow({
        name: 'Order confirmation',
        description: 'What was ordered and what happens next.',
        labels: ['Orders'],
        priority: 90,
        trigger: { kind: 'event', event: 'order.placed' },
        steps: [
          designed('confirmation', 'Order confirmation', shop, {
            subject: 'Your order {{ order.number }}',
            previewText: 'We have it. Here is what you ordered.',
            invoice: true,
          }, [
            heading('We have your order'),
            says('thanks', 'thank you, your order {{ order.number }} is with us. We write again when it leaves.'),
            ITEMS,
            SUMMARY,
            HELP,
          ]),
        ],
      }),
  },
  {
    key: 'thanks',
    purpose: 'A few plain lines by a person, after the first and the second order and never again.',
    make: (shop) =>
      workflow({
        name: 'Personal thanks',
        description: 'After the first and the second order; later ones get nothing.',
        labels: ['Orders'],
        trigger: { kind: 'event', event: 'order.placed' },
        exclusions: [...UNDONE],
        steps: [
          {
            key: 'how-many',
            kind: 'split',
            branches: [
              {
                key: 'first',
                name: 'First order',
                when: ordersEver(1),
                steps: [
                  wait('wait-first', 'PT35M'),
                  email('thanks-first', 'Thank you', shop, {
                    subject: 'Thank you, {{ customer.first_name | default: "and welcome" }}',
                    body: 'yours is a name we had not packed for before. Welcome. Should a question come up while you unpack, write back: the answer will be mine.',
                  }),
                ],
              },
              {
                key: 'second',
                name: 'Second order',
                when: ordersEver(2),
                steps: [
                  wait('wait-second', 'PT50M'),
                  email('thanks-second', 'Good to see you again', shop, {
                    subject: 'Good to see you again',
                    body: 'a second parcel with your name on it stands on the bench. What brought you back, and what would have kept you away? Half a sentence helps.',
                  }),
                ],
              },
            ],
            otherwise: [{ key: 'no-thanks', kind: 'end' }],
          },
        ],
      }),
  },
  afterDispatch,
  {
    key: 'review',
    purpose: 'Ten days after dispatch, once ever, plain, with no reward.',
    make: (shop) =>
      workflow({
        name: 'Review request',
        description: 'Ten days after dispatch, once ever. Plain text, no reward.',
        labels: ['Reviews'],
        priority: 20,
        trigger: { kind: 'event', event: 'order.fulfilled' },
        entry: { rule: { kind: 'once' }, overlap: 'one' },
        exclusions: [
          leaveIf('refunded', happened('order.refunded')),
          leaveIf('reviewed', happened('review.submitted', 'customer')),
        ],
        steps: [
          wait('time-to-use', 'P10D'),
          email('ask', 'How is it working out?', shop, {
            purpose: 'marketing',
            subject: 'How is it working out?',
            body: 'you have had it for a while now. Would you write a review, whatever you think? It helps others choose.',
          }),
        ],
      }),
  },
  {
    key: 'payment',
    purpose: 'Ten minutes after a payment fails: what to do, and a tag for those who look after it; the next day once more, unless it is paid.',
    make: (shop) =>
      workflow({
        name: 'Payment trouble',
        description: 'What to do when a payment did not go through. Leaves when it is paid.',
        labels: ['Orders', 'Recovery'],
        priority: 80,
        trigger: { kind: 'event', event: 'order.payment_failed' },
        exclusions: [
          leaveIf('paid', happened('order.paid')),
          leaveIf('cancelled', happened('order.cancelled')),
        ],
        steps: [
          wait('a-little', 'PT10M'),
          designed('failed', 'Payment did not go through', shop, {
            subject: 'Your payment for order {{ order.number }} did not go through',
            previewText: 'Nothing is lost: your order is kept.',
          }, [
            heading('The payment did not go through'),
            says('what', 'your bank declined the payment of {{ order.total }}. Nothing is lost: your order is kept. Try another card, or answer this mail.'),
            ITEMS,
            HELP,
          ]),
          { key: 'mark', kind: 'tag', change: 'add', tag: 'payment open' },
          {
            key: 'until-paid',
            kind: 'waitFor',
            event: 'order.paid',
            about: 'subject',
            limit: 'P1D',
            came: [{ key: 'unmark', kind: 'tag', change: 'remove', tag: 'payment open' }],
            otherwise: [
              designed('again', 'Still waiting', shop, {
                subject: 'Order {{ order.number }} is still waiting for you',
                previewText: 'Shall we help?',
              }, [
                heading('Still waiting for you'),
                says('what', 'your order of {{ order.total }} is still kept. Shall we help?'),
                ITEMS,
                HELP,
              ]),
            ],
          },
        ],
      }),
  },
] // prettier-ignore
