import type { Definition } from '../../core/workflow/definition.ts'
import { fromRecipe } from './fromRecipe.ts'
import { GREETING, inDesign, MAREN, says, TIAGO } from './shared.ts'

/** A basket that was filled and left. Hands over to the checkout workflow when one is started. */
export const openBasket: Definition = fromRecipe(
  'basket',
  {
    description:
      'Five hours after something was put in a basket. Leaves on an order, and when a checkout is started: that has a workflow of its own.',
  },
  {
    kept: {
      sender: MAREN,
      blocks: [
        says('hello', GREETING, 'these are still in your basket:'),
        { key: 'items', kind: 'items', prices: true, images: true },
        {
          key: 'back',
          kind: 'button',
          label: 'Go on where you were',
          href: '{{ basket.url | default: "https://combwright.example/basket" }}',
        },
        says('bye', 'Maren'),
      ],
    },
  },
)

const inTheWay = {
  sender: TIAGO,
  previewText: 'Everything is still there, exactly as you left it.',
  blocks: inDesign('open-checkout', {
    title: 'Was something in the way?',
    kept: [
      GREETING,
      'if something did not work, tell me. If you just were called away, everything is still there.',
    ],
    back: {
      label: 'Finish your order',
      href: '{{ checkout.url | default: "https://combwright.example/checkout" }}',
    },
    doubts: 'If something holds you back',
    reasons: [
      'Not sure about a size, or what goes with what? Answer this mail; I keep bees myself.',
      'Does it not fit? You have 30 days to send it back.',
      'The parcel costs what it says, and nothing from €60.',
    ],
    last: 'Tiago',
  }),
} as const

/** A checkout that was started and not finished: by value, a tested delay, then the next day. */
export const openCheckout: Definition = fromRecipe(
  'checkout',
  {
    description:
      'Low values after 50 minutes or 3 hours (a test of the delay), high ones after 7 hours from a person; the next evening once more. A coupon only for those who never ordered.',
  },
  {
    'by-hand': {
      sender: TIAGO,
      body: `Hello {{ customer.first_name | default: "there" }},

you were looking at:

{{ checkout.items }}

That is not bought in a minute. If you are unsure about sizes, or what goes with what, just ask; I answer myself.

Tiago`,
    },
    'soon-mail': inTheWay,
    'later-mail': inTheWay,
    'with-coupon': {
      sender: MAREN,
      blocks: [
        { key: 'heading', kind: 'heading', level: 1, text: 'Ten per cent for the first' },
        says('hello', GREETING, 'your checkout is still open:'),
        { key: 'items', kind: 'items', prices: true, images: true },
        {
          key: 'code',
          kind: 'coupon',
          text: 'For a first order, this takes ten per cent off until {{ coupon.expires_on }}:',
        },
        {
          key: 'back',
          kind: 'button',
          label: 'Finish your order',
          href: '{{ checkout.url | default: "https://combwright.example/checkout" }}',
        },
        says('bye', 'Maren'),
      ],
    },
    last: {
      name: 'Back on the shelf',
      format: 'letter',
      sender: MAREN,
      subject: 'Two days more, then back on the shelf',
      previewText: '',
      body: `Hello {{ customer.first_name | default: "there" }},

your checkout of {{ checkout.total }} is still open. We keep it together two days more; with swarming near, somebody else will be glad of the rest.

{{ checkout.url | default: "https://combwright.example/checkout" }}

Maren`,
    },
    text: {
      body: 'Combwright: {{ checkout.items | as: "names" }} kept for you until this evening. {{ checkout.url | default: "https://combwright.example/checkout" }} STOP to end texts',
    },
  },
)
