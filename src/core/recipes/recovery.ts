import type { Step } from '../workflow/steps.ts'
import {
  buttonTo,
  code,
  designed,
  email,
  heading,
  HELP,
  ITEMS,
  says,
  shopSite,
} from './messages.ts'
import {
  coupon,
  happened,
  leaveIf,
  MONTHLY,
  ordersEver,
  wait,
  workflow,
  type Recipe,
  type RecipeShop,
} from './parts.ts'

/** Workflows about what was left unfinished, and about long silence. */
export const RECOVERY_RECIPES: readonly Recipe[] = [
  {
    key: 'basket',
    purpose: 'Five hours after something was put in a basket; leaves on an order, or a checkout.',
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
          wait('five-hours', 'PT5H'),
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
    purpose: 'Large ones after seven hours, by a person; others after 50 minutes or three hours, which is tested. The next evening once more: a coupon for those who never ordered; a word to the others, and a short text two mornings later.',
    make: (shop) =>
      workflow({
        name: 'Open checkout',
        description: 'By value, with a test of the delay; a coupon only for those who never ordered. Leaves on any order.',
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
                  wait('seven-hours', 'PT7H'),
                  email('by-hand', 'A person writes', shop, {
                    purpose: 'marketing',
                    subject: 'Can I help with your choice?',
                    body: 'you were looking at:\n\n{{ checkout.items }}\n\nThat is not bought in a minute. If you are unsure about anything, just ask.',
                  }),
                ],
              },
            ],
            otherwise: [testedDelay(shop)],
          },
          { key: 'next-evening', kind: 'wait', for: 'P1D', at: '18:20', onDay: true },
          newOrKnown(shop),
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
] // prettier-ignore

/** The same mail sooner or later, and none for a few: what it brings is what the others buy besides. */
function testedDelay(shop: RecipeShop): Step {
  const inTheWay = (key: string) =>
    designed(key, 'Was something in the way?', shop, {
      purpose: 'marketing',
      subject: 'Was something in the way?',
      previewText: 'Your checkout is still open.',
    }, [
      heading('Was something in the way?'),
      says('open', 'your checkout is still open:'),
      ITEMS,
      buttonTo('checkout.url', 'Finish your order', shop),
      HELP,
    ]) // prettier-ignore
  return {
    key: 'how-soon',
    kind: 'experiment',
    name: 'How soon',
    lottery: 'checkout-how-soon',
    plan: { measure: 'ordered', windowDays: 14, least: 0.03 },
    arms: [
      { key: 'soon', name: '50 minutes', weight: 45, steps: [wait('soon-wait', 'PT50M'), inTheWay('soon-mail')] },
      { key: 'later', name: '3 hours', weight: 45, steps: [wait('later-wait', 'PT3H'), inTheWay('later-mail')] },
      { key: 'none', name: 'No message', weight: 10, holdout: true, steps: [] },
    ],
  } // prettier-ignore
}

/** A coupon only for those who never ordered: others would learn to leave a basket for it. */
function newOrKnown(shop: RecipeShop): Step {
  return {
    key: 'new-or-known',
    kind: 'split',
    branches: [
      {
        key: 'new',
        name: 'Never ordered',
        when: ordersEver(0),
        steps: [
          coupon('first-coupon', 'First order, 10 %', 'FIRST-######', 10),
          designed('with-coupon', 'Ten per cent for the first', shop, {
            purpose: 'marketing',
            subject: 'Three days of ten per cent, for your first order',
            previewText: 'A code of your own.',
          }, [
            heading('Ten per cent for the first'),
            says('open', 'your checkout is still open:'),
            ITEMS,
            code('For a first order, until {{ coupon.expires_on }}:'),
            buttonTo('checkout.url', 'Finish your order', shop),
          ]),
        ],
      },
    ],
    otherwise: [
      designed('last', 'Last reminder', shop, {
        purpose: 'marketing',
        subject: 'Kept for you until the day after tomorrow',
        previewText: 'Then it goes back on the shelf.',
      }, [
        heading('Still kept for you'),
        says('open', 'your checkout of {{ checkout.total }} is still open. We keep it two days more, then it goes back on the shelf.'),
        ITEMS,
        buttonTo('checkout.url', 'Finish your order', shop),
      ]),
      { key: 'second-morning', kind: 'wait', for: 'P2D', at: '08:10', onDay: true },
      {
        key: 'text',
        kind: 'sms',
        name: 'A short text',
        purpose: 'marketing',
        body: `${shop.name}: {{ checkout.items | as: "names" }} kept for you until this evening. {{ checkout.url | default: "${shopSite(shop)}" }} STOP to end texts`,
        onGap: 'skip',
      },
    ],
  } // prettier-ignore
}
