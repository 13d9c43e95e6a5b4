import type { Definition } from '../../core/workflow/definition.ts'
import {
  coupon,
  happened,
  leaveIf,
  ordersEver,
  UNHAPPY,
  workflow,
} from '../../core/recipes/parts.ts'
import { designed, GREETING, inDesign, MAREN, message, says, TIAGO } from './shared.ts'

/**
 * In draft, with mistakes on purpose: a field without words in its place, a misspelt one, and nobody
 * leaves when the order is undone.
 */
export const firstToSecond: Definition = workflow({
  name: 'First order to second',
  labels: ['Orders'],
  description:
    'For those who have ordered once: one thing to know; a review once it has been used; what goes with it, with a code of three days; a last offer. Still being written.',
  priority: 30,
  trigger: { kind: 'event', event: 'order.placed', filter: ordersEver(1) },
  entry: { rule: { kind: 'once' }, overlap: 'one' },
  exclusions: [leaveIf('ordered-again', happened('order.placed', 'customer')), UNHAPPY],
  steps: [
    { key: 'four-days', kind: 'wait', for: 'P4D', at: '19:20', onDay: true },
    message('advice', 'One thing we wish we had known', {
      sender: MAREN,
      subject: '{{ customer.first_name }}, one thing we wish we had known',
      body: `Hello {{ customer.firstname }},

keep a notebook at the hives. Not an app: paper, with propolis on it. Ours are at https://combwright.example/notebooks, one page a week, if you would like to look over our shoulder.

Maren`,
    }),
    {
      key: 'until-dispatch',
      kind: 'waitFor',
      event: 'order.fulfilled',
      about: 'subject',
      limit: 'P12D',
      came: [
        { key: 'time-to-use', kind: 'wait', for: 'P18D', at: '19:20', onDay: true },
        message('first-review', 'How is it working out?', {
          format: 'plain',
          onlyIf: { kind: 'not', of: happened('review.submitted', 'customer') },
          sender: TIAGO,
          subject: 'How is it working out?',
          body: `Hello {{ customer.first_name | default: "there" }},

you have had your first things from us for a good fortnight. Would you write a few honest lines for other beekeepers? What is good, and what is not?

https://combwright.example/reviews

Tiago`,
        }),
      ],
      otherwise: [],
    },
    { key: 'ten-days', kind: 'wait', for: 'P10D', at: '19:20', weekdays: [3, 5, 7] },
    coupon('day-coupon', 'With the first, 10 %', 'WITH-######', 10),
    designed(
      'goes-with-it',
      'What goes with it',
      {
        sender: MAREN,
        subject: 'It can travel in one parcel',
        previewText: 'Three days of ten per cent on what goes with your order.',
      },
      [
        ...inDesign('second-order', {
          sub: [
            GREETING,
            'your first things have had time to settle in. This is what most people wanted within a month.',
          ],
          look: null,
          p1: 'One parcel',
          q1: 'It can travel with the rest.',
          p2: 'Three days',
          q2: 'Ten per cent on anything.',
          p3: 'Answered',
          q3: 'By Tiago, who keeps bees.',
          social: null,
        }),
        {
          key: 'code',
          kind: 'coupon',
          text: 'Ten per cent on anything, until {{ coupon.expires_on }}:',
          style: { align: 'center', above: 'large' },
        },
        says('bye', 'Maren'),
      ],
    ),
    { key: 'three-weeks', kind: 'wait', for: 'P23D', at: '19:20', weekdays: [3, 5, 7] },
    coupon('last-coupon', 'Second order, 15 %', 'AGAIN-######', 15),
    designed(
      'invitation',
      'Come again',
      {
        sender: MAREN,
        subject: 'Fifteen per cent, and then we are quiet',
        previewText: 'For three days; after it we only write when you order.',
      },
      [
        { key: 'heading', kind: 'heading', level: 1, text: 'If you would like to come again' },
        says('hello', GREETING, 'this is the last thing we send you until you order. On 9 May we open forty hives together, and two places are kept for people who bought from us this spring.'), // prettier-ignore
        {
          key: 'code',
          kind: 'coupon',
          text: 'Fifteen per cent on anything, until {{ coupon.expires_on }}:',
        },
        {
          key: 'classes',
          kind: 'button',
          label: 'See the classes',
          href: 'https://combwright.example/classes',
        },
        { key: 'social', kind: 'social' },
        says('bye', 'Maren'),
      ],
    ),
  ],
})
