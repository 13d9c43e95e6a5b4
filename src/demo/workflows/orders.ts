import type { Definition } from '../../core/workflow/definition.ts'
import { fromRecipe } from './fromRecipe.ts'
import { happened, leaveIf, workflow } from '../../core/recipes/parts.ts'
import { designed, GREETING, inDesign, MAREN, message, SHOP_SENDER, TIAGO } from './shared.ts'

export const orderConfirmation: Definition = workflow({
  name: 'Order confirmation',
  labels: ['Orders'],
  description: 'What was ordered and what happens next, at once, for every order.',
  priority: 90,
  trigger: { kind: 'event', event: 'order.placed' },
  steps: [
    designed(
      'confirmation',
      'Order confirmation',
      {
        purpose: 'transactional',
        sender: SHOP_SENDER,
        replyTo: TIAGO.address,
        subject: 'Your order {{ order.number }}',
        previewText: 'We have it. Here is what you ordered and what happens next.',
      },
      inDesign('confirmation', {
        hello: [
          GREETING,
          'your order is with us. Aoife packs on weekdays; you will hear from us again when your parcel is on its way.',
        ],
        'next-steps': [
          'Aoife packs it, mostly the same day',
          'You get a link to follow the van',
          'It is at your door, in straw and paper',
        ],
        wrong:
          'Answer this mail, it reaches Tiago. As long as the parcel is not taped he can change or cancel it.',
        help: 'Questions? Just answer this mail, or write to',
      }),
    ),
  ],
})

export const personalThanks: Definition = fromRecipe(
  'thanks',
  {
    description:
      'A few plain lines from Maren after the first and the second order. Later orders get none.',
  },
  {
    'thanks-first': {
      purpose: 'marketing',
      sender: MAREN,
      body: `Hello {{ customer.first_name | default: "there" }},

a name we had not packed for before went up on the board this morning: yours. Welcome to the yard. Combwright is four of us, a barn full of cedar and eleven colonies that check our work.

When the parcel comes and something in it puzzles you, write back before you guess. I would rather answer ten questions than have one frame put in the wrong way round.

Maren`,
    },
    'thanks-second': {
      purpose: 'marketing',
      sender: MAREN,
      body: `Hello {{ customer.first_name | default: "there" }},

there is a second parcel with your name on it on the bench, and Aoife says I am to be pleased about it quietly. I am.

What brought you back? And what would have kept you away? Half a sentence to either helps us more than you think.

Maren`,
    },
  },
)

export const paymentTrouble: Definition = workflow({
  name: 'Payment trouble',
  labels: ['Orders', 'Recovery'],
  description:
    'A quarter of an hour after a payment fails: what to do. A second note the next day if it is still open.',
  priority: 80,
  trigger: { kind: 'event', event: 'order.payment_failed' },
  entry: { rule: { kind: 'after', duration: 'P3D' }, overlap: 'one' },
  exclusions: [
    leaveIf('paid', happened('order.paid')),
    leaveIf('cancelled', happened('order.cancelled')),
  ],
  steps: [
    { key: 'wait-a-little', kind: 'wait', for: 'PT15M' },
    designed(
      'help',
      'Your payment did not go through',
      {
        purpose: 'transactional',
        sender: TIAGO,
        subject: 'Your payment for order {{ order.number }} did not go through',
        previewText: 'Nothing is lost: your order is kept for three days.',
      },
      inDesign('payment', {
        why: [
          GREETING,
          'the payment of {{ order.total }} for order {{ order.number }} did not go through. Banks do that for many reasons, most of them harmless. Your order is kept for three days.',
        ],
        again: { label: 'Try again, or pay another way', href: 'https://combwright.example/pay' },
        help: 'If it fails again, answer this mail and I will find another way with you. Tiago,',
      }),
    ),
    { key: 'wait-a-day', kind: 'wait', for: 'PT28H' },
    message('still-open', 'Still open', {
      purpose: 'transactional',
      sender: TIAGO,
      subject: 'Order {{ order.number }} is still waiting for you',
      body: `Hello {{ customer.first_name | default: "there" }},

order {{ order.number }} is still unpaid. We keep it until the day after tomorrow, then the things go back on the shelf.

Pay here: https://combwright.example/pay, or tell me if you have changed your mind.

Tiago`,
    }),
  ],
})
