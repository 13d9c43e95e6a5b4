import { coupon, wait, workflow } from '../../core/recipes/parts.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { isMessage, type Step } from '../../core/workflow/steps.ts'
import { fromRecipe } from './fromRecipe.ts'
import { designed, GREETING, MAREN, message, says } from './shared.ts'

/** The draw of when people are asked; that of the thanks goes by it too, which is its mistake. */
const WHEN_TO_ASK = 'review-when-to-ask'

/** When to ask for a review: a test that can be decided. */
export const reviewRequest: Definition = ((): Definition => {
  const asked = fromRecipe(
    'review',
    {
      labels: ['Orders', 'Reviews'],
      description: 'Once ever, plain, with no reward. Tested: ten days after dispatch, or three weeks.',
    },
    {
      ask: {
        sender: MAREN,
        body: `Hello {{ customer.first_name | default: "there" }},

you have had your things from order {{ order.number }} for a while now. Would you write a few honest lines for other beekeepers? What is good, and what is not?

https://combwright.example/reviews

Maren`,
      },
    },
  )
  const after = (waitKey: string, duration: string, key: string): Step[] => [
    wait(waitKey, duration),
    ...asked.steps.filter(isMessage).map((step) => ({ ...step, key })),
  ]
  return {
    ...asked,
    steps: [
      {
        key: 'when-to-ask',
        kind: 'experiment',
        name: 'When to ask',
        lottery: WHEN_TO_ASK,
        plan: { measure: 'reviewed', windowDays: 45, least: 0.04 },
        arms: [
          { key: 'early', name: 'After ten days', weight: 50, steps: after('ten-days', 'P10D', 'ask-early') },
          { key: 'late', name: 'After three weeks', weight: 50, steps: after('three-weeks', 'P21D', 'ask-late') },
        ],
      },
    ],
  }
})() // prettier-ignore

/** One letter after two months without an order, and none for one in five: what it really brings. */
export const twoQuietMonths: Definition = ((): Definition => {
  const silence = fromRecipe(
    'silence',
    {
      name: 'Two quiet months',
      description:
        'Sixty days after the last order, one plain letter. One in five gets none, so that it can be told what the letter brings.',
      trigger: {
        kind: 'date',
        field: 'customer.lastOrderAt',
        direction: 'after',
        days: 60,
        at: '10:00',
        zone: 'recipient',
      },
    },
    {
      'still-there': {
        sender: MAREN,
        subject: 'What is in flower where you are?',
        body: `Hello {{ customer.first_name | default: "there" }},

it has been two months. Here the first willow is out and the bees are on it from ten in the morning. What is in flower where you are?

If you need anything for the season: https://combwright.example/season

Maren`,
      },
    },
  )
  return {
    ...silence,
    steps: [
      {
        key: 'letter-or-none',
        kind: 'experiment',
        name: 'A letter or none',
        lottery: 'two-quiet-months',
        plan: { measure: 'ordered', windowDays: 30, least: 0.05 },
        arms: [
          { key: 'letter', name: 'The letter', weight: 80, steps: silence.steps },
          { key: 'none', name: 'No letter', weight: 20, holdout: true, steps: [] },
        ],
      },
    ],
  }
})()

/**
 * Thanks for a review, with or without a code. It draws by the lottery of the request, by mistake: whoever was asked
 * early reviews more, so that its arms are not alike from the start.
 */
export const reviewThanks: Definition = workflow({
  name: 'Thanks for a review',
  description: 'The next morning. Tested: thanks alone, or with a code for the next order.',
  labels: ['Reviews'],
  priority: 20,
  trigger: {
    kind: 'event',
    event: 'review.submitted',
    filter: { kind: 'field', field: 'review.stars', op: 'gte', value: 4 },
  },
  entry: { rule: { kind: 'after', duration: 'P90D' }, overlap: 'one' },
  steps: [
    {
      key: 'with-a-code',
      kind: 'experiment',
      name: 'Thanks, or thanks and a code',
      lottery: WHEN_TO_ASK,
      plan: { measure: 'ordered', windowDays: 30, least: 0.1 },
      arms: [
        {
          key: 'thanks',
          name: 'Thanks alone',
          weight: 50,
          steps: [
            { key: 'next-morning', kind: 'wait', for: 'P1D', at: '09:30', onDay: true },
            message('thank-you', 'Thank you', {
              sender: MAREN,
              subject: 'Thank you for your {{ review.stars }} stars',
              body: `Hello {{ customer.first_name | default: "there" }},

thank you for writing about it. Reviews are read here at breakfast, aloud.

Maren`,
            }),
          ],
        },
        {
          key: 'code',
          name: 'Thanks and a code',
          weight: 50,
          steps: [
            { key: 'next-morning-too', kind: 'wait', for: 'P1D', at: '09:30', onDay: true },
            coupon('thanks-coupon', 'For a review, 10 %', 'BEE-######', 10),
            designed(
              'thank-you-code',
              'Thank you, with a code',
              { sender: MAREN, subject: 'Thank you for your {{ review.stars }} stars' },
              [
                says('hello', GREETING, 'thank you for writing about it. Reviews are read here at breakfast, aloud.'),
                { key: 'code', kind: 'coupon', text: 'Ten per cent on anything, until {{ coupon.expires_on }}:' },
                says('bye', 'Maren'),
              ],
            ),
          ],
        },
      ],
    },
  ],
}) // prettier-ignore
