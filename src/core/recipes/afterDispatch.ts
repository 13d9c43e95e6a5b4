import type { SplitBranch, Step } from '../workflow/steps.ts'
import { designed, heading, HELP, ITEMS, products, says, TRACKING } from './messages.ts'
import {
  allCategories,
  anyCategory,
  happened,
  leaveIf,
  UNHAPPY,
  wait,
  workflow,
  type Recipe,
  type RecipeShop,
} from './parts.ts'

/** How many categories get a path of their own to begin with. */
const OWN_PATHS = 2

/** The dispatch notice, then advice by what was bought: the shop's own categories have the paths. */
export const afterDispatch: Recipe = {
  key: 'after-dispatch',
  purpose:
    'The dispatch notice at once; five days later, in the evening, advice by what was bought, one for those who bought of two categories; then the other category, to those who never bought of it. Nothing once they order again, or are unhappy.',
  make: (shop) =>
    workflow({
      name: 'After dispatch',
      description: 'Dispatch notice, then advice by what was bought.',
      labels: ['Orders'],
      trigger: { kind: 'event', event: 'order.fulfilled' },
      exclusions: [
        leaveIf('refunded', happened('order.refunded')),
        leaveIf('ordered', happened('order.placed', 'customer')),
        UNHAPPY,
      ],
      steps: [
        designed(
          'dispatched',
          'Dispatch notice',
          shop,
          {
            subject: 'Order {{ order.number }} is on its way',
            previewText: 'Your parcel has left us.',
          },
          [
            heading('It is on its way'),
            says('left', 'your parcel with {{ order.items | as: "names" }} has left us.'),
            TRACKING,
            ITEMS,
            HELP,
          ],
        ),
        { key: 'settled', kind: 'wait', for: 'P5D', at: '18:40', onDay: true },
        ...adviceFor(shop),
      ],
    }),
}

/** One advice for all in a shop with one category; else a path for each of the first ones. */
function adviceFor(shop: RecipeShop): Step[] {
  const own = shop.categories.slice(0, OWN_PATHS)
  const forAll = advice('advice', 'Advice', shop, 'it')
  const [first, second] = own
  if (first === undefined || second === undefined) return [forAll]
  const both: SplitBranch = {
    key: 'both',
    name: `${first} and ${second}`,
    when: allCategories(first, second),
    steps: [advice('advice-both', `${first} and ${second}`, shop, `${first} and ${second}`)],
  }
  const single = own.map((name, index): SplitBranch => ({
    key: `category-${index + 1}`,
    name,
    when: anyCategory(name),
    steps: [
      advice(`advice-${index + 1}`, name, shop, name),
      wait(`weeks-${index + 1}`, 'P16D'),
      crossSell(`other-${index + 1}`, shop, name, name === first ? second : first),
    ],
  }))
  const branches = [both, ...single]
  return [{ key: 'what-was-bought', kind: 'split', branches, otherwise: [forAll] }]
}

/** What goes with the one category, for those who never bought anything of the other. */
const crossSell = (key: string, shop: RecipeShop, bought: string, other: string) =>
  designed(
    key,
    `${other} to go with it`,
    shop,
    {
      purpose: 'marketing',
      onlyIf: {
        kind: 'lines',
        on: 'orders',
        how: 'none',
        of: [{ kind: 'field', field: 'line.category', op: 'is', value: other }],
      },
      subject: `What goes with ${bought}`,
      previewText: `Something of ${other}.`,
    },
    [
      heading(`${other} to go with it`),
      says('why', `those who bought ${bought} mostly needed something of ${other} soon: …`),
      products('together'),
    ],
  )

const advice = (key: string, name: string, shop: RecipeShop, what: string) =>
  designed(
    key,
    name,
    shop,
    {
      purpose: 'marketing',
      subject: what === 'it' ? 'Getting the most out of it' : `Getting the most out of ${what}`,
      previewText: 'Three things that others wished they had known.',
    },
    [
      heading('By now it has arrived'),
      says('advice', 'three things that others wished they had known at the start: …'),
      heading('Often taken with it', 'also'),
      products('together'),
    ],
  )
