import type { Condition } from '../conditions/condition.ts'
import type { Step } from '../workflow/steps.ts'
import { code, designed, email, heading, products, says, SOCIAL } from './messages.ts'
import {
  coupon,
  happened,
  leaveIf,
  ordersEver,
  UNDONE,
  UNHAPPY,
  wait,
  workflow,
  type Recipe,
  type RecipeShop,
} from './parts.ts'

/** What makes a second order of a first one. */
export const firstToSecond: Recipe = {
  key: 'first-to-second',
  purpose:
    'After a first order: one thing to know; a review once it has been used; what goes with it, with a coupon of three days; a last offer. Leaves when they order again.',
  make: (shop) =>
    workflow({
      name: 'First order to second',
      description: 'For those who have ordered once. Leaves on the next order, or a bad review.',
      labels: ['Orders'],
      priority: 30,
      trigger: { kind: 'event', event: 'order.placed', filter: ordersEver(1) },
      entry: { rule: { kind: 'once' }, overlap: 'one' },
      exclusions: [
        ...UNDONE,
        leaveIf('ordered-again', happened('order.placed', 'customer')),
        UNHAPPY,
      ],
      steps: [...advice(shop), reviewOnceUsed(shop), ...whatGoesWithIt(shop), ...lastOffer(shop)],
    }),
}

function whatGoesWithIt(shop: RecipeShop): Step[] {
  return [
    { key: 'ten-days', kind: 'wait', for: 'P10D', at: '19:20', weekdays: [3, 5, 7] },
    coupon('day-coupon', 'With the first, 10 %', 'WITH-######', 10),
    designed('goes-with-it', 'What goes with it', shop, {
      purpose: 'marketing',
      subject: 'What goes with your order, and ten per cent for three days',
      previewText: 'It can travel in one parcel.',
    }, [
      heading('What goes with it'),
      says('next', 'those who bought {{ order.items | as: "names" }} mostly needed one of these soon:'),
      products('together'),
      code('Ten per cent on anything, until {{ coupon.expires_on }}:'),
    ]),
  ] // prettier-ignore
}

const noReviewYet: Condition = { kind: 'not', of: happened('review.submitted', 'customer') }

/** Asked once the parcel has left and there was time to use what was in it. */
function reviewOnceUsed(shop: RecipeShop): Step {
  return {
    key: 'until-dispatch',
    kind: 'waitFor',
    event: 'order.fulfilled',
    about: 'subject',
    limit: 'P12D',
    came: [
      wait('time-to-use', 'P18D'),
      email('ask', 'How is it working out?', shop, {
        purpose: 'marketing',
        onlyIf: noReviewYet,
        subject: 'How is it working out?',
        body: 'you have had your first things from us for a while now. Would you write a review, whatever you think? It helps others choose.',
      }),
    ],
    otherwise: [],
  }
}

function advice(shop: RecipeShop): Step[] {
  return [
    { key: 'four-days', kind: 'wait', for: 'P4D', at: '19:20', onDay: true },
    designed('one-thing', 'One thing to know', shop, {
      purpose: 'marketing',
      subject: 'One thing we wish we had known',
      previewText: 'Most people find it out late.',
    }, [
      heading('One thing to know'),
      says('advice', 'one thing that most people find out late: …'),
      says('where', 'We show such things as we go along:'),
      SOCIAL,
    ]),
  ] // prettier-ignore
}

function lastOffer(shop: RecipeShop): Step[] {
  return [
    { key: 'three-weeks', kind: 'wait', for: 'P23D', at: '19:20', weekdays: [3, 5, 7] },
    coupon('last-coupon', 'Second order, 15 %', 'AGAIN-######', 15),
    designed('last-offer', 'A last offer', shop, {
      purpose: 'marketing',
      subject: 'Fifteen per cent on a second order, for three days',
      previewText: 'After this we only write when you order.',
    }, [
      heading('If you would like to come again'),
      says('offer', 'this is the last offer we make; after it we only write when you order.'),
      code('Fifteen per cent, until {{ coupon.expires_on }}:'),
    ]),
  ] // prettier-ignore
}
