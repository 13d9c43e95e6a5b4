import type { NoteStep } from '../workflow/steps.ts'
import { workflow, type Recipe, type RecipeShop } from './parts.ts'

/** Everybody of the staff at once; where no groups are known, whom the shop's messages come from. */
const staffOf = ({ groups, sender }: RecipeShop): Pick<NoteStep, 'to' | 'groups'> =>
  groups.length > 0 ? { to: [], groups: groups.slice(0, 2) } : { to: [sender.address] }

/** Notes to colleagues, with links into the shop's back office. */
export const STAFF_RECIPES: readonly Recipe[] = [
  {
    key: 'large-order',
    purpose: 'A note to all staff groups about each large order, at once, so that somebody can call and the others know.',
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
            ...staffOf(shop),
            subject: 'Order {{ order.number }}: {{ order.total }}',
            body: 'A large order from {{ customer.first_name | default: "somebody" }} ({{ customer.email }}, {{ customer.phone | default: "no phone number" }}):\n\n{{ order.items }}\n\n{{ order.back_office_url | default: "It stands in the back office." }}',
          },
        ],
      }),
  },
  {
    key: 'failed-renewal',
    purpose: 'A note to staff when the payment of a large renewal fails, so that somebody can ask.',
    make: (shop) =>
      workflow({
        name: 'Staff: failed renewal',
        description: 'Somebody looks at it before the customer has to ask.',
        labels: ['Staff', 'Subscriptions'],
        priority: 50,
        trigger: {
          kind: 'event',
          event: 'subscription.payment_failed',
          filter: { kind: 'field', field: 'subscription.amount', op: 'gte', value: { amountMinor: 5_000, currency: shop.currency } },
        },
        steps: [
          {
            key: 'look',
            kind: 'note',
            name: 'Look at it',
            ...staffOf(shop),
            subject: '{{ subscription.title }} of {{ customer.email }}: {{ subscription.amount }} not paid',
            body: 'The payment of {{ subscription.amount }} by {{ subscription.payment_method | default: "an unknown method" }} failed.\n\n{{ customer.first_name | default: "Somebody" }}, {{ customer.phone | default: "no phone number" }}',
          },
        ],
      }),
  },
  {
    key: 'bad-review',
    purpose: 'A note to staff about each review of one or two stars, so that it is answered the same day.',
    make: (shop) =>
      workflow({
        name: 'Staff: unhappy review',
        description: 'Somebody answers it the same day.',
        labels: ['Staff', 'Reviews'],
        priority: 60,
        trigger: {
          kind: 'event',
          event: 'review.submitted',
          filter: { kind: 'field', field: 'review.stars', op: 'lte', value: 2 },
        },
        steps: [
          {
            key: 'answer',
            kind: 'note',
            name: 'Answer it today',
            ...staffOf(shop),
            subject: '{{ review.stars }} of 5 from {{ customer.email }}',
            body: '“{{ review.text | default: "no words" }}”\n\nPlease answer it today.',
          },
        ],
      }),
  },
] // prettier-ignore
