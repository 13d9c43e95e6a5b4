import { leaveIf, NOT_ACTIVE } from '../../core/recipes/parts.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { fromRecipe } from './fromRecipe.ts'
import { MAREN, TIAGO, inDesign } from './shared.ts'

/** Seven days before an automatic payment, where the customer lives. */
export const renewalReminder: Definition = fromRecipe(
  'renewal',
  {
    description:
      'Seven days before the next payment, automatic renewals only: the amount, the date, how it is paid, where to change it.',
    exclusions: [leaveIf('not-active', NOT_ACTIVE)],
  },
  {
    reminder: {
      sender: TIAGO,
      subject:
        '{{ subscription.title }}: {{ subscription.amount }} on {{ subscription.next_payment_on | default: "its next date" }}',
      previewText: 'Nothing to do if all is well. Here is where to change it.',
      blocks: inDesign('renewal', {
        when: 'On {{ subscription.next_payment_on | default: "its next date" }}: {{ subscription.amount }} by {{ subscription.payment_method | default: "the way you chose" }}.',
        keep: 'Nothing to do if all is well. It goes on as it is.',
        change:
          'The date, the amount, the way it is paid, or all of it: in two clicks, until the day before.',
        manage: {
          label: 'Change it',
          href: '{{ subscription.url | default: "https://combwright.example/account" }}',
        },
        help: 'Questions? Answer this mail, it reaches Tiago, or write to',
      }),
    },
  },
)

/** After a trial: how it went, and what comes next. */
export const trialEnded: Definition = fromRecipe(
  'trial-ended',
  { description: 'When a trial of Hive Check ends: what was found, what goes on, how to stop it.' },
  {
    'what-next': {
      format: 'letter',
      sender: TIAGO,
      previewText: '',
      body: `Hello {{ customer.first_name | default: "there" }},

the thirty days of {{ subscription.title }} are over. From now on it is {{ subscription.amount }} a {{ subscription.interval }}; the first payment is on {{ subscription.next_payment_on | default: "the date in your account" }}.

You can stop it at any time: {{ subscription.url | default: "https://combwright.example/account" }}

Tiago`,
    },
  },
)

/** From on hold to expired, or cancelled: an honest question, then an invitation. */
export const comeBack: Definition = fromRecipe(
  'subscription-ended',
  {
    description:
      'When a subscription is cancelled or ends: one question at once, an invitation five weeks later. Leaves when they subscribe again.',
  },
  {
    why: {
      sender: MAREN,
      body: `Hello {{ customer.first_name | default: "there" }},

your {{ subscription.title }} has ended. That is fine, and nothing more will be charged. May I ask why? One line is enough, and I read every one.

Maren`,
    },
    'come-back': {
      name: 'When the feed runs out',
      format: 'letter',
      sender: MAREN,
      subject: 'When the feed runs out',
      previewText: '',
      body: `Hello {{ customer.first_name | default: "there" }},

if you would like {{ subscription.title }} back, it is two clicks, and you can leave out months: https://combwright.example/feed-club

Maren`,
    },
  },
)

/** A renewal whose payment failed: help, a tag for the care team, and a wait for the payment. */
export const renewalFailed: Definition = fromRecipe(
  'renewal-failed',
  {
    description:
      'Ten minutes after a renewal fails: help and a link. Tagged for the care team; three days to pay, then a last note. Leaves when it is renewed.',
  },
  {
    help: {
      format: 'letter',
      sender: TIAGO,
      previewText: '',
      body: `Hello {{ customer.first_name | default: "there" }},

the payment of {{ subscription.amount }} for {{ subscription.title }} did not go through. It happens; mostly a card has run out.

You can pay or change the card here: {{ subscription.url | default: "https://combwright.example/account" }}

Tiago`,
    },
    last: {
      format: 'letter',
      sender: TIAGO,
      previewText: '',
      body: `Hello {{ customer.first_name | default: "there" }},

it is still open. I can pause {{ subscription.title }} until you are ready; just answer “pause”.

Tiago`,
    },
  },
)
