import type { Condition } from '../../core/conditions/condition.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { happened, leaveIf, ordersEver, workflow } from '../../core/recipes/parts.ts'
import { designed, GREETING, MAREN, message, says, TIAGO } from './shared.ts'

const ordered = leaveIf('ordered', happened('order.placed', 'customer'))

const highValue: Condition = {
  kind: 'field',
  field: 'checkout.total',
  op: 'gte',
  value: { amountMinor: 15_000, currency: 'EUR' },
}

/** A basket that was filled and left. Hands over to the checkout workflow when one is started. */
export const openBasket: Definition = workflow({
  name: 'Open basket',
  labels: ['Recovery'],
  description:
    'Five hours after something was put in a basket. Leaves on an order, and when a checkout is started: that has a workflow of its own.',
  priority: 30,
  trigger: { kind: 'event', event: 'basket.item_added' },
  entry: { rule: { kind: 'after', duration: 'P30D' }, overlap: 'one' },
  exclusions: [ordered, leaveIf('checkout', happened('checkout.started', 'customer'))],
  steps: [
    { key: 'five-hours', kind: 'wait', for: 'PT5H' },
    designed(
      'kept',
      'Kept for you',
      { sender: MAREN, subject: 'Still in your basket', previewText: 'Kept as you left it.' },
      [
        says('hello', GREETING, 'these are still in your basket:'),
        { key: 'items', kind: 'items', prices: true },
        {
          key: 'back',
          kind: 'button',
          label: 'Go on where you were',
          href: '{{ basket.url | default: "https://combwright.example/basket" }}',
        },
        says('bye', 'Maren'),
      ],
    ),
  ],
})

/** A checkout that was started and not finished: by value, a tested delay, then the next day. */
export const openCheckout: Definition = workflow({
  name: 'Open checkout',
  labels: ['Recovery'],
  description:
    'Low values after 50 minutes or 3 hours (a test of the delay), high ones after 7 hours from a person; the next evening once more. A coupon only for those who never ordered.',
  priority: 60,
  trigger: { kind: 'event', event: 'checkout.started' },
  entry: { rule: { kind: 'after', duration: 'P30D' }, overlap: 'one' },
  exclusions: [ordered],
  steps: [
    {
      key: 'value',
      kind: 'split',
      branches: [
        {
          key: 'high',
          name: 'Over €150',
          when: highValue,
          steps: [
            { key: 'seven-hours', kind: 'wait', for: 'PT7H' },
            message('by-hand', 'A person writes', {
              format: 'plain',
              sender: TIAGO,
              subject: 'Can I help with your choice?',
              body: `Hello {{ customer.first_name | default: "there" }},

you were looking at:

{{ checkout.items }}

That is not bought in a minute. If you are unsure about sizes, or what goes with what, just ask; I answer myself.

Tiago`,
            }),
          ],
        },
      ],
      otherwise: [
        {
          key: 'delay',
          kind: 'experiment',
          name: 'How soon',
          lottery: 'checkout-delay',
          arms: [
            {
              key: 'soon',
              name: '50 minutes',
              weight: 45,
              steps: [{ key: 'wait-soon', kind: 'wait', for: 'PT50M' }, openMail('soon-mail')],
            },
            {
              key: 'later',
              name: '3 hours',
              weight: 45,
              steps: [{ key: 'wait-later', kind: 'wait', for: 'PT3H' }, openMail('later-mail')],
            },
            { key: 'none', name: 'No message', weight: 10, holdout: true, steps: [] },
          ],
        },
      ],
    },
    { key: 'next-evening', kind: 'wait', for: 'P1D', at: '18:20', onDay: true },
    {
      key: 'new-or-known',
      kind: 'split',
      branches: [
        {
          key: 'new',
          name: 'Never ordered',
          when: ordersEver(0),
          steps: [
            {
              key: 'first-coupon',
              kind: 'coupon',
              name: 'First order, 10 %',
              pattern: 'COMB-######',
              discount: { kind: 'percent', percent: 10 },
              expiresAfter: 'P3D',
            },
            designed(
              'with-coupon',
              'Ten per cent for the first',
              {
                sender: MAREN,
                subject: 'Three days of ten per cent, for your first order',
                previewText: 'A code of your own.',
              },
              [
                { key: 'heading', kind: 'heading', level: 1, text: 'Ten per cent for the first' },
                says('hello', GREETING, 'your checkout is still open:'),
                { key: 'items', kind: 'items', prices: true },
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
            ),
          ],
        },
      ],
      otherwise: [
        message('last-call', 'Back on the shelf', {
          sender: MAREN,
          subject: 'Two days more, then back on the shelf',
          body: `Hello {{ customer.first_name | default: "there" }},

your checkout of {{ checkout.total }} is still open. We keep it together two days more; with swarming near, somebody else will be glad of the rest.

{{ checkout.url | default: "https://combwright.example/checkout" }}

Maren`,
        }),
        { key: 'second-morning', kind: 'wait', for: 'P2D', at: '08:10', onDay: true },
        {
          key: 'text',
          kind: 'sms',
          name: 'A short text',
          purpose: 'marketing',
          body: 'Combwright: {{ checkout.items | as: "names" }} kept for you until this evening. {{ checkout.url | default: "https://combwright.example/checkout" }} STOP to end texts',
          onGap: 'skip',
        },
      ],
    },
  ],
})

function openMail(key: string) {
  return message(key, 'Was something in the way?', {
    sender: TIAGO,
    subject: 'Was something in the way?',
    body: `Hello {{ customer.first_name | default: "there" }},

your checkout is still open:

{{ checkout.items }}

If something did not work, tell me; if you just were called away: {{ checkout.url | default: "https://combwright.example/checkout" }}

Tiago`,
  })
}
