import { findingId } from '../../core/check/finding.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import {
  allCategories,
  anyCategory,
  happened,
  leaveIf,
  UNHAPPY,
  workflow,
} from '../../core/recipes/parts.ts'
import {
  designed,
  GREETING,
  inDesign,
  MAREN,
  message,
  neverBought,
  SHOP_SENDER,
  TIAGO,
} from './shared.ts'

/** That a path also takes those who bought of another one's category as well. */
const alsoTakes = (branch: string): string =>
  findingId({
    code: 'contents-missed',
    place: { kind: 'branch', branching: 'by-category', branch },
  })

export const afterDispatch: Definition = workflow({
  name: 'After dispatch',
  labels: ['Orders'],
  description:
    'Dispatch notice, then a care guide by what they bought. One guide for people with hive and suit.',
  priority: 60,
  answered: [
    ['hives-and-wear', 'Feed has its season; whoever buys it again gets the diary then.'],
    ['hives', 'The guide for new wood speaks of feeding in its second half.'],
    ['wear', 'The suit comes first: nobody feeds without one.'],
  ].map(([branch = '', note = '']) => ({ finding: alsoTakes(branch), note })),
  trigger: {
    kind: 'event',
    event: 'order.fulfilled',
    filter: {
      kind: 'field',
      field: 'order.total',
      op: 'gte',
      value: { amountMinor: 1500, currency: 'EUR' },
    },
  },
  exclusions: [
    leaveIf('refunded', happened('order.refunded')),
    leaveIf('ordered-again', happened('order.placed', 'customer')),
    UNHAPPY,
  ],
  steps: [
    designed(
      'dispatch',
      'Dispatch notice',
      {
        purpose: 'transactional',
        sender: SHOP_SENDER,
        subject: 'Order {{ order.number }} is on its way',
        previewText: 'Packed by Aoife this morning.',
      },
      inDesign('dispatch', {
        left: 'Your parcel has left us',
        what: [GREETING, 'Aoife packed order {{ order.number }} this morning.'],
        tracking: 'Follow your parcel',
        home: 'The van leaves a card and comes once more the next working day.',
        broken:
          'Send Tiago a picture within 14 days: care@combwright.example. He puts it right first and asks later.',
      }),
    ),
    {
      key: 'by-category',
      kind: 'split',
      branches: [
        {
          key: 'hives-and-wear',
          name: 'Hives and wear',
          when: allCategories('Hives & frames', 'Protective wear'),
          steps: [
            { key: 'wait-both', kind: 'wait', for: 'P5D', at: '18:40', onDay: true },
            message('starting-out', 'Starting out', {
              sender: MAREN,
              subject: 'Two boxes, one beginning',
              previewText: 'A guide for hive and suit together.',
              body: `Hello {{ customer.first_name | default: "there" }},

your hive and your suit have arrived, so here is one guide for both.

Put the hive where the morning sun reaches it, level from side to side and a finger's width lower at the front. Wear the suit once in the garden before you open anything: a veil you have got used to is a calm veil.

Maren`,
            }),
          ],
        },
        {
          key: 'hives',
          name: 'Hives & frames',
          when: anyCategory('Hives & frames'),
          steps: [
            { key: 'wait-hives', kind: 'wait', for: 'P5D', at: '18:40', onDay: true },
            designed(
              'first-fortnight',
              'First fortnight',
              {
                sender: MAREN,
                subject: 'The first fortnight with new wood',
                previewText: 'Assemble, site, settle.',
              },
              inDesign('care-guide', {
                title: 'New wood moves. Three things to do first.',
                intro: [GREETING, 'here is what we tell friends who build their first hive.'],
                t1: 'Glue it, do not only nail it',
                x1: 'Nails work loose in two summers. Glue the joints, and let them dry flat under a weight.',
                t2: 'Two coats of linseed oil',
                x2: 'Outside only, a day apart, before the bees move in. They see to the inside themselves.',
                t3: 'Then leave it alone',
                x3: 'Two weeks. They know what to do, and every look costs them a warm day.',
                guide: null,
                help: 'Not sure about a joint? Ask before you saw:',
              }),
            ),
            { key: 'wait-feeder', kind: 'wait', for: 'P16D' },
            message('a-feeder', 'A feeder beside it', {
              onlyIf: neverBought('Rapid feeder', 'Frame feeder'),
              sender: MAREN,
              subject: 'The one thing a new colony asks for',
              previewText: 'Only if you have none yet.',
              body: `Hello {{ customer.first_name | default: "there" }},

in its first weeks a colony builds faster than it can gather. A feeder on a cool evening makes the difference between six frames and nine:

https://combwright.example/feeders

Maren`,
            }),
          ],
        },
        {
          key: 'wear',
          name: 'Protective wear',
          when: anyCategory('Protective wear'),
          steps: [
            { key: 'wait-wear', kind: 'wait', for: 'P5D', at: '18:40', onDay: true },
            message('wash-and-mend', 'Wash and mend', {
              sender: TIAGO,
              subject: 'Wash cold, mend early',
              previewText: 'How a suit lasts ten seasons.',
              body: `Hello {{ customer.first_name | default: "there" }},

wash the suit at 30 degrees without softener and take the veil off first. Look along the zip after every day at the hives: a hole the size of a lentil is a door.

Tiago`,
            }),
            { key: 'wait-gloves', kind: 'wait', for: 'P16D' },
            message('gloves', 'Hands, too', {
              onlyIf: neverBought('Goatskin gloves'),
              sender: TIAGO,
              subject: 'The suit ends at the wrist',
              previewText: 'Gloves that let you feel a frame.',
              body: `Hello {{ customer.first_name | default: "there" }},

with a suit and no gloves everybody starts bravely and ends with tape. Goatskin is thin enough to feel a queen cell through it:

https://combwright.example/gloves

Tiago`,
            }),
          ],
        },
        {
          key: 'feed',
          name: 'Feed & health',
          when: anyCategory('Feed & health'),
          steps: [
            { key: 'wait-feed', kind: 'wait', for: 'P5D', at: '18:40', onDay: true },
            message('feeding-diary', 'Feeding diary', {
              sender: TIAGO,
              subject: 'How much, how often',
              body: `Hello {{ customer.first_name | default: "there" }},

weigh the hive from behind with one hand, once a week, and write it down. Two lines of numbers tell you more than any table of ours.

Tiago`,
            }),
            { key: 'wait-refill', kind: 'wait', for: 'P16D' },
            designed(
              'refill',
              'Refill time',
              {
                sender: SHOP_SENDER,
                subject: 'Time to top up?',
                previewText: 'About now the first bag runs out.',
              },
              inDesign('second-order', {
                title: 'Time to top up?',
                sub: 'about now the first bag runs out',
                together: 'Often taken with it',
                look: { label: 'The same feed again', href: 'https://combwright.example/feed' },
                promises: null,
                social: null,
              }),
            ),
          ],
        },
      ],
      otherwise: [
        { key: 'wait-others', kind: 'wait', for: 'P5D', at: '18:40', onDay: true },
        message('settling-in', 'Settling in', {
          format: 'plain',
          sender: MAREN,
          subject: 'Is everything where it should be?',
          body: `Hello {{ customer.first_name | default: "there" }},

by now the box is flat and its contents are out at the hives. If a part is missing, a lid sits badly or the colour is not what the picture promised, tell me here; the van leaves every afternoon at four.

Maren`,
        }),
      ],
    },
  ],
})
