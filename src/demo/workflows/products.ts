import type { Definition } from '../../core/workflow/definition.ts'
import { fromRecipe } from './fromRecipe.ts'
import { happened, leaveIf, workflow } from '../../core/recipes/parts.ts'
import { RHYTHM } from '../rhythms.ts'
import { MAREN, message, productId, TIAGO } from './shared.ts'

/** For each book in an order: what to begin with at once, and two letters later. */
export const byProduct: Definition = fromRecipe(
  'by-product',
  {
    description:
      'For every copy line of the book: how to begin, at once, then two follow-ups. Copy it for the next book.',
  },
  {
    begin: {
      format: 'letter',
      subject: 'Before {{ line.title }} arrives',
      previewText: 'The picture sheets that belong to it, to print now.',
      body: `Hello {{ customer.first_name | default: "there" }},

{{ line.title }} comes with picture sheets to take to the hives. You can print them now, before the book is there:

https://combwright.example/sheets

Combwright`,
    },
    'how-is-it': {
      name: 'Chapter three',
      format: 'letter',
      sender: MAREN,
      subject: 'If you read one chapter this week',
      body: `Hello {{ customer.first_name | default: "there" }},

read the third one. It is short, and it is the one people write to us about: how to tell a frame that is being cleaned from one that is being robbed.

Maren`,
    },
    'looking-back': {
      name: 'A question back',
      sender: MAREN,
      subject: 'What did you see?',
      body: `Hello {{ customer.first_name | default: "there" }},

you have had the book for six weeks. What did you see at your hives that is not in it? Just answer; I collect these for the next edition.

Maren`,
    },
  },
)

/** Before people run out of what they buy again and again. */
export const moreSmoke: Definition = fromRecipe(
  'reorder',
  {},
  {
    'soon-out': {
      name: 'Running low?',
      sender: TIAGO,
      subject: 'Still enough smoke for the next inspection?',
      body: `Hello {{ customer.first_name | default: "there" }},

going by how often you order {{ line.title }}, your bag is nearly empty. If you order this week it is with you before you stand at the hives without smoke:

https://combwright.example/pellets

Tiago`,
    },
    'still-enough': {
      name: 'Last word on it',
      sender: TIAGO,
      subject: 'Pellets: the last we say about it',
      body: `Hello {{ customer.first_name | default: "there" }},

it seems your pellets last longer than we thought. Good. You know where they are:

https://combwright.example/pellets

Tiago`,
    },
  },
  { id: productId(RHYTHM.product), title: RHYTHM.product },
)

/** For each class in an order, one run, with the date of that class. */
export const bookedClass: Definition = workflow({
  name: 'Before a class',
  labels: ['Products'],
  description:
    'For every booked class: the confirmation at once, what to bring three days before, where to park on the morning itself.',
  priority: 70,
  trigger: {
    kind: 'event',
    event: 'order.placed',
    per: 'line',
    filter: { kind: 'field', field: 'line.category', op: 'is', value: 'Classes' },
  },
  exclusions: [
    leaveIf('refunded', happened('order.refunded')),
    leaveIf('cancelled', happened('order.cancelled')),
    leaveIf('undone', {
      kind: 'field',
      field: 'order.status',
      op: 'in',
      value: ['cancelled', 'refunded'],
    }),
  ],
  steps: [
    message('booked', 'Your place is kept', {
      purpose: 'transactional',
      sender: TIAGO,
      subject: 'Your place: {{ line.title }}',
      body: `Hello {{ customer.first_name | default: "there" }},

your place is kept: {{ line.title }}, {{ line.starts_at | default: "on the day in the programme" }}. We write again before it with what to bring.

If you cannot come, answer this mail up to a week before, and somebody from the waiting list will be glad.

Tiago`,
    }),
    {
      key: 'booked-text',
      kind: 'sms',
      name: 'Your place, on the phone',
      purpose: 'transactional',
      onlyIf: { kind: 'field', field: 'customer.phone', op: 'known' },
      longLinks: true,
      body: 'Combwright: your place is kept: {{ line.title }}, from {{ line.starts_at | default: "the usual hour" | as: "hour" }}. Tiago',
    },
    {
      key: 'three-days-before',
      kind: 'until',
      until: {
        kind: 'field',
        field: 'line.startsAt',
        offset: { direction: 'before', duration: 'P3D' },
        at: '17:30',
      },
      ifPast: 'skipNext',
    },
    message('bring', 'What to bring', {
      purpose: 'transactional',
      sender: TIAGO,
      subject: 'In three days: what to bring',
      body: `Hello {{ customer.first_name | default: "there" }},

in three days it is time for {{ line.title }}. Bring boots, a bottle of water, and a veil if you have one; we have spare ones in three sizes.

Tiago`,
    }),
    {
      key: 'same-morning',
      kind: 'until',
      until: {
        kind: 'field',
        field: 'line.startsAt',
        offset: { direction: 'before', duration: 'P0D' },
        at: '06:45',
      },
      ifPast: 'skipNext',
    },
    message('where', 'Where to park', {
      purpose: 'transactional',
      sender: TIAGO,
      subject: 'Today: where to park',
      body: `Hello {{ customer.first_name | default: "there" }},

see you later. Park behind the lime trees, not at the gate: that is the bees’ way out.

Tiago`,
    }),
    {
      key: 'where-text',
      kind: 'sms',
      name: 'On the morning, by phone',
      purpose: 'transactional',
      longLinks: true,
      body: 'Combwright: {{ line.title }} is today, {{ line.starts_at | default: "at the hour in the programme" | as: "hour" }}. Park behind the lime trees. Tiago',
    },
  ],
})
