import { designed, email, heading, HELP, says } from './messages.ts'
import { boughtSinceEntry, leaveIf, UNDONE, workflow, type Recipe } from './parts.ts'

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
          { key: 'nine-days', kind: 'wait', for: 'P9D', at: '08:40', weekdays: [1, 2, 4, 6] },
          email('how-is-it', 'How is it going?', shop, {
            purpose: 'marketing',
            subject: `How is it going with ${shop.product.title}?`,
            body: 'most questions come up in the first days. Answer this mail with yours.',
          }),
          { key: 'six-weeks', kind: 'wait', for: 'P6W', at: '08:40', weekdays: [1, 2, 4, 6] },
          email('looking-back', 'Six weeks later', shop, {
            purpose: 'marketing',
            subject: `Six weeks with ${shop.product.title}`,
            body: 'you have had it for six weeks. What do you know now that we should have told you at the start? One line helps the next ones.',
          }),
        ],
      }),
  },
  {
    key: 'reorder',
    purpose: 'Three days before somebody will most likely buy a product again, reckoned from your own orders and, once they bought it twice, from theirs. Who has bought it by then hears nothing.',
    asks: 'product',
    make: (shop) =>
      workflow({
        name: `Time for more: ${shop.product.title}`.slice(0, 120),
        description: `Three days before the expected reorder of ${shop.product.title}.`,
        labels: ['Products'],
        priority: 45,
        trigger: {
          kind: 'date',
          field: 'line.reorderAt',
          direction: 'before',
          days: 3,
          at: '08:40',
          zone: 'recipient',
          filter: { kind: 'field', field: 'line.product', op: 'is', value: shop.product.id },
        },
        // A day that is reckoned anew, by another order, must not ask twice within days.
        entry: { rule: { kind: 'after', duration: 'P14D' }, overlap: 'one' },
        exclusions: [...UNDONE, leaveIf('bought', boughtSinceEntry(shop.product.id))],
        steps: [
          email('soon-out', 'Soon out of it?', shop, {
            purpose: 'marketing',
            subject: `Soon out of ${shop.product.title}?`,
            body: `by now you may be running low on ${shop.product.title}. Order it in time, and it is there before you need it.`,
          }),
          { key: 'ten-days', kind: 'wait', for: 'P10D', at: '08:40', weekdays: [1, 2, 4, 6] },
          email('still-enough', 'Still enough?', shop, {
            purpose: 'marketing',
            subject: `Is there still enough ${shop.product.title}?`,
            body: `this is the last time we ask. If you use less of ${shop.product.title} than we thought, all the better.`,
          }),
        ],
      }),
  },
  {
    key: 'class',
    purpose: 'For every booked date: at once, what to bring three days before, the way there on the same morning. Checked again each time.',
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
            key: 'three-days-before',
            kind: 'until',
            until: { kind: 'field', field: 'line.startsAt', offset: { direction: 'before', duration: 'P3D' }, at: '17:30' },
            ifPast: 'skipNext',
          },
          designed('bring', 'What to bring', shop, {
            subject: 'In three days: what to bring',
            previewText: '{{ line.title }}',
          }, [
            heading('In three days'),
            says('what', '{{ line.title }} begins on {{ line.starts_at | default: "the day you chose" | as: "weekday" }}. Bring …'),
            HELP,
          ]),
          {
            key: 'same-morning',
            kind: 'until',
            until: { kind: 'field', field: 'line.startsAt', offset: { direction: 'before', duration: 'P0D' }, at: '06:45' },
            ifPast: 'skipNext',
          },
          designed('way', 'The way there', shop, {
            subject: 'Today: how to find us',
            previewText: '{{ line.title }}',
          }, [
            heading('See you later'),
            says('what', '{{ line.title }} begins at {{ line.starts_at | default: "the hour you know" | as: "hour" }}. You find us …'),
            HELP,
          ]),
        ],
      }),
  },
] // prettier-ignore
