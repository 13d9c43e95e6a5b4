import type { Definition } from '../../core/workflow/definition.ts'
import { fromRecipe } from './fromRecipe.ts'
import { workflow } from '../../core/recipes/parts.ts'

/** Orders that deserve a call. */
export const largeOrder: Definition = fromRecipe(
  'large-order',
  { description: 'An order over €400: Tiago calls, Maren knows.' },
  {
    call: {
      body: `{{ customer.first_name | default: "Somebody" }} {{ customer.last_name | default: "" }} ordered for {{ order.total }}.

{{ order.items }}

Phone: {{ customer.phone | default: "not known" }}
{{ order.back_office_url | default: "https://admin.combwright.example" }}`,
    },
  },
)

/** Reviews of one or two stars. */
export const badReview: Definition = workflow({
  name: 'Staff: bad review',
  labels: ['Staff', 'Reviews'],
  description: 'A review of one or two stars: the care team answers the same day.',
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
      to: [],
      groups: ['care'],
      subject: '{{ review.stars }} of 5 from {{ customer.email }}',
      body: `“{{ review.text | default: "no words" }}”

Please answer it today: https://combwright.example/office/reviews`,
    },
    { key: 'mark', kind: 'tag', change: 'add', tag: 'unhappy' },
  ],
})

/** Renewals that failed. */
export const failedRenewal: Definition = fromRecipe(
  'failed-renewal',
  {
    description: 'A yearly renewal that failed: Maren looks at it herself.',
    trigger: {
      kind: 'event',
      event: 'subscription.payment_failed',
      filter: { kind: 'field', field: 'subscription.interval', op: 'is', value: 'year' },
    },
  },
  {
    look: {
      to: ['maren@combwright.example'],
      subject: '{{ subscription.title }} of {{ customer.email }} was not renewed',
      body: `{{ subscription.amount }}, by {{ subscription.payment_method | default: "an unknown way" }}.

https://combwright.example/office/subscriptions`,
    },
  },
)
