import type { Definition } from '../../core/workflow/definition.ts'
import { workflow } from '../../core/recipes/parts.ts'

/** Orders that deserve a call. */
export const largeOrder: Definition = workflow({
  name: 'Staff: large order',
  labels: ['Staff'],
  description: 'An order over €400: Tiago calls, Maren knows.',
  priority: 90,
  trigger: {
    kind: 'event',
    event: 'order.placed',
    filter: {
      kind: 'field',
      field: 'order.total',
      op: 'gt',
      value: { amountMinor: 40_000, currency: 'EUR' },
    },
  },
  steps: [
    {
      key: 'call',
      kind: 'note',
      name: 'Call them',
      to: [],
      groups: ['care', 'founder'],
      subject: 'Order {{ order.number }}: {{ order.total }}',
      body: `{{ customer.first_name | default: "Somebody" }} {{ customer.last_name | default: "" }} ordered for {{ order.total }}.

{{ order.items }}

Phone: {{ customer.phone | default: "not known" }}
{{ order.back_office_url | default: "https://admin.combwright.example" }}`,
    },
  ],
})

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
export const failedRenewal: Definition = workflow({
  name: 'Staff: failed renewal',
  labels: ['Staff', 'Subscriptions'],
  description: 'A yearly renewal that failed: Maren looks at it herself.',
  priority: 50,
  trigger: {
    kind: 'event',
    event: 'subscription.payment_failed',
    filter: { kind: 'field', field: 'subscription.interval', op: 'is', value: 'year' },
  },
  steps: [
    {
      key: 'look',
      kind: 'note',
      name: 'Look at it',
      to: ['maren@combwright.example'],
      subject: '{{ subscription.title }} of {{ customer.email }} was not renewed',
      body: `{{ subscription.amount }}, by {{ subscription.payment_method | default: "an unknown way" }}.

https://combwright.example/office/subscriptions`,
    },
  ],
})
