import { designed, email, heading, HELP, says } from './messages.ts'
import { UNDONE, workflow, type Recipe } from './parts.ts'

/** Workflows about one thing that was bought, or about the date that was booked with it. */
export const PRODUCT_RECIPES: readonly Recipe[] = [
  {
    key: 'by-product',
    purpose: 'For each line of one product: where to begin, at once, and two follow-ups. Copy it for the next product.',
    asks: 'product',
    make: (shop) =>
      workflow({
        name: `By product: ${shop.product.title}`.slice(0, 120),
        description: `For each line of ${shop.product.title}: where to begin, and how it goes.`,
        labels: ['Products'],
        priority: 60,
        trigger: {
          kind: 'event',
          event: 'order.placed',
          // One of several in an order is no other workflow: each has its own line.
          per: 'line',
          filter: { kind: 'field', field: 'line.product', op: 'is', value: shop.product.id },
        },
        exclusions: [...UNDONE],
        steps: [
          designed('begin', 'Where to begin', shop, {
            subject: `Before ${shop.product.title} arrives`,
            previewText: 'This is where to begin.',
          }, [
            heading('Where to begin'),
            says('begin', `${shop.product.title} is on its way soon. This is where to begin: …`),
            HELP,
          ]),
          { key: 'a-week', kind: 'wait', for: 'P7D', at: '10:00', weekdays: [1, 2, 3, 4, 5] },
          email('how-is-it', 'How is it going?', shop, {
            purpose: 'marketing',
            subject: `How is it going with ${shop.product.title}?`,
            body: 'most questions come up in the first week. Answer this mail with yours.',
          }),
          { key: 'a-month', kind: 'wait', for: 'P1M', at: '10:00', weekdays: [1, 2, 3, 4, 5] },
          email('looking-back', 'A month later', shop, {
            purpose: 'marketing',
            subject: `A month with ${shop.product.title}`,
            body: 'you have had it for a month. What do you know now that we should have told you at the start? One line helps the next ones.',
          }),
        ],
      }),
  },
  {
    key: 'class',
    purpose: 'For every booked date: at once, what to bring two days before, the way there the day before. Checked again each time.',
    make: (shop) =>
      workflow({
        name: 'Before a date',
        description: 'For each line with a date: the confirmation, what to bring, the way there.',
        labels: ['Products'],
        priority: 70,
        trigger: {
          kind: 'event',
          event: 'order.placed',
          per: 'line',
          filter: { kind: 'field', field: 'line.startsAt', op: 'known' },
        },
        exclusions: [...UNDONE],
        steps: [
          designed('kept', 'Your place is kept', shop, {
            subject: 'Your place: {{ line.title }}',
            previewText: '{{ line.starts_at | default: "On the day you chose." }}',
          }, [
            heading('Your place is kept'),
            says('what', '{{ line.title }}:', '{{ line.starts_at | default: "on the day you chose" | as: "weekday" }}, {{ line.starts_at | default: "at the hour you know" | as: "hour" }}.'),
            HELP,
          ]),
          {
            key: 'two-days-before',
            kind: 'until',
            until: { kind: 'field', field: 'line.startsAt', offset: { direction: 'before', duration: 'P2D' }, at: '09:00' },
            ifPast: 'skipNext',
          },
          designed('bring', 'What to bring', shop, {
            subject: 'In two days: what to bring',
            previewText: '{{ line.title }}',
          }, [
            heading('In two days'),
            says('what', '{{ line.title }} begins on {{ line.starts_at | default: "the day you chose" | as: "weekday" }}. Bring …'),
            HELP,
          ]),
          {
            key: 'day-before',
            kind: 'until',
            until: { kind: 'field', field: 'line.startsAt', offset: { direction: 'before', duration: 'P1D' }, at: '16:00' },
            ifPast: 'skipNext',
          },
          designed('way', 'The way there', shop, {
            subject: 'Tomorrow: how to find us',
            previewText: '{{ line.title }}',
          }, [
            heading('Until tomorrow'),
            says('what', '{{ line.title }} begins at {{ line.starts_at | default: "the hour you know" | as: "hour" }}. You find us …'),
            HELP,
          ]),
        ],
      }),
  },
] // prettier-ignore
