import { caniemail } from 'caniemail'
import { describe, expect, test } from 'vitest'
import { DESIGNS } from '../../../core/designs/index.ts'
import { plainBrand } from '../../../core/messages/brand.ts'
import { anEmail } from '../../../testing/builders.ts'
import { facts } from '../../../testing/coreFacts.ts'
import { renderEmail } from '../render.ts'

/** Most of the mail that shops send is read in these. Of some others the table has gaps. */
const PROGRAMS = ['apple-mail.*', 'gmail.*', 'outlook.*', 'yahoo.*', 'samsung-email.*'] as const

/**
 * What the designs use although one of these programs lacks it, and what is seen there instead. What is not in this
 * list everybody must have: a new one is a decision.
 */
const LOST: Readonly<Record<string, string>> = {
  // The page and its styles: without them the inline styles and the table widths are what is left.
  '<style> element': 'wide, light, as the inline styles say',
  '<body> element': 'the ground is drawn by the table within it as well',
  '@media': 'wide and light',
  'Chaining selectors': 'wide and light',
  'Class selector': 'wide and light',
  'Descendant combinator': 'wide and light',
  'ID selector': 'wide and light',
  'Type selector': 'the margins of the program',
  'display:none': 'the preview text is at the top once, small and pale',
  opacity: 'the preview text is at the top once, small and pale',
  overflow: 'the preview text is at the top once, small and pale',
  // Details of how things are drawn.
  'border-radius': 'square corners',
  'height property': 'the height of the content',
  outline: 'no difference: images have none anyway',
  'table-layout': 'columns by their content, which has a width of its own',
  'white-space': 'long prices may break',
  'word-break': 'long words stay whole',
  'word-spacing': 'no difference: it is the usual one',
  transform: 'no difference: only older programs need it',
  cursor: 'the usual pointer',
  // Read aloud.
  'aria-label attribute': 'tables are read as they stand',
  'role attribute': 'tables are read as tables',
  'target attribute': 'links open where the program opens them',
}

async function htmlOf(design: (typeof DESIGNS)[number]): Promise<string> {
  const made = design.make({ name: 'Combwright', site: 'https://combwright.example' })
  // What differs from one recipient to the next is taken as it is written: each design is looked at whole.
  const { html } = await renderEmail(
    anEmail('m', { format: 'designed', purpose: 'marketing', ...made, subject: 'A design' }),
    facts(),
    {
      brand: { ...plainBrand('Combwright'), helpEmail: 'care@combwright.example' },
      publicUrl: 'https://yomble.example',
      unsubscribeUrl: 'https://yomble.example/u/x',
      holds: () => true,
      keptOf: async () => new Map(),
      productsOf: async () => [{ id: 'p', title: 'Smoker', category: null, priceMinor: 3900, currency: 'EUR', url: 'https://combwright.example/p', imageUrl: 'https://combwright.example/p.png' }],
      looksOf: async () => new Map(),
      tags: 'mustache',
    },
  ) // prettier-ignore
  return html ?? ''
}

// The table of what mail programs support is that of caniemail.com, as the npm package `caniemail` carries it.
describe('what mail programs support', () => {
  test.each(DESIGNS.map((design) => [design.key, design] as const))(
    '%s has nothing that is lost without our knowing',
    async (_key, design) => {
      const { issues } = caniemail({ clients: [...PROGRAMS], html: await htmlOf(design) })
      const lost = [...issues.errors.values()].flatMap((found) => found.map(({ title }) => title))
      expect(lost.length).toBeGreaterThan(0)
      expect([...new Set(lost)].filter((title) => !(title in LOST))).toEqual([])
    },
  )

  test('everything that is known to be lost somewhere is still used', async () => {
    const all = await Promise.all(DESIGNS.map(htmlOf))
    const lost = all.flatMap((html) =>
      [...caniemail({ clients: [...PROGRAMS], html }).issues.errors.values()].flatMap((found) => found.map(({ title }) => title)),
    ) // prettier-ignore
    expect(Object.keys(LOST).filter((title) => !lost.includes(title))).toEqual([])
  })

  test('a design has room to spare before mail programs cut it off', async () => {
    for (const design of DESIGNS) {
      expect(Buffer.byteLength(await htmlOf(design)), design.key).toBeLessThan(50_000)
    }
  })
})
