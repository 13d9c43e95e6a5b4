import fc from 'fast-check'
import mjml from 'mjml'
import { describe, expect, test } from 'vitest'
import type { Block, LeafBlock } from '../../../core/blocks/blocks.ts'
import { styleSchema, type BlockStyle } from '../../../core/blocks/style.ts'
import { plainBrand } from '../../../core/messages/brand.ts'
import { anEmail } from '../../../testing/builders.ts'
import { aLine, facts } from '../../../testing/coreFacts.ts'
import { renderEmail } from '../render.ts'
import { mjmlOf } from './mjmlOf.ts'
import { Slots } from './slots.ts'
import { Writer } from './writer.ts'

const BRAND = { ...plainBrand('Combwright'), helpEmail: 'care@combwright.example' }
const OPTIONS = { lang: 'en-IE', hasWayOut: true, hasOrderData: false, isMarked: false }

const says = (key: string, style: BlockStyle = {}): LeafBlock => ({ key, kind: 'text', text: [{ kind: 'paragraph', text: [{ text: `words of ${key}` }] }], style }) // prettier-ignore

async function html(blocks: Block[], lines = [aLine()], looks = new Map<string, { url: string | null; imageUrl: string | null }>()) {
  const rendered = await renderEmail(
    anEmail('m', { format: 'designed', subject: 'Hi', blocks }),
    facts({ order: { lines } }),
    { brand: BRAND, publicUrl: 'https://y.example', unsubscribeUrl: null, holds: () => true, productsOf: async () => [], looksOf: async () => looks, keptOf: async () => new Map() },
  )
  return rendered.html ?? ''
} // prettier-ignore

/** Any style there is. */
const someStyle: fc.Arbitrary<BlockStyle> = fc.record(
  {
    align: fc.constantFrom('left' as const, 'center' as const, 'right' as const),
    above: fc.constantFrom('none' as const, 'small' as const, 'huge' as const),
    below: fc.constantFrom('none' as const, 'medium' as const, 'large' as const),
    band: fc.constantFrom('paper' as const, 'ground' as const, 'tint' as const, 'accent' as const, 'ink' as const),
    size: fc.constantFrom('small' as const, 'normal' as const, 'large' as const, 'huge' as const),
    ink: fc.constantFrom('ink' as const, 'quiet' as const, 'accent' as const),
    corners: fc.constantFrom('square' as const, 'soft' as const, 'round' as const, 'pill' as const),
    width: fc.constantFrom('words' as const, 'half' as const, 'full' as const),
    button: fc.constantFrom('filled' as const, 'outlined' as const),
    edge: fc.boolean(),
    line: fc.constantFrom('thin' as const, 'thick' as const, 'dotted' as const, 'short' as const),
    only: fc.constantFrom('phones' as const, 'wide' as const),
  },
  { requiredKeys: [] },
) // prettier-ignore

const ofEachKind = (style: BlockStyle): Block[] => [
  { key: 'h', kind: 'heading', level: 1, text: 'Hello', style },
  says('t', style),
  { key: 'b', kind: 'button', label: 'Go', href: 'https://a.example', style },
  { key: 'i', kind: 'image', src: 'https://a.example/x.png', alt: '', width: 300, height: 200, style },
  { key: 'its', kind: 'items', prices: true, images: true, grid: true, style },
  { key: 's', kind: 'summary', style },
  { key: 'p', kind: 'products', by: 'best', count: 3, columns: 3, prices: true, images: true, heading: 'More', style },
  { key: 'd', kind: 'divider', style },
  { key: 'help', kind: 'help', text: 'Questions?', style },
  { key: 'cols', kind: 'columns', columns: [[says('c1', style)], [says('c2', style)], []], widths: [1, 2, 1], upright: 'middle', style },
] // prettier-ignore

test('whatever is chosen is valid MJML, strictly (property)', async () => {
  await fc.assert(
    fc.asyncProperty(someStyle, async (style) => {
      expect(styleSchema.parse(style)).toEqual(style)
      const source = mjmlOf(ofEachKind(style), new Writer(new Slots(), BRAND), OPTIONS)
      const { errors } = await mjml(source, { validationLevel: 'strict', fonts: {} })
      expect(errors).toEqual([])
    }),
    { numRuns: 25 },
  )
})

describe('how a block looks', () => {
  test('without a style it is as it always was: on paper, in ink, at the left', async () => {
    const drawn = await html([says('t')])
    expect(drawn).toMatch(/class="band-paper"/)
    expect(drawn).toMatch(/text-align:left;color:#1d2826[^>]*>\s*<p[^>]*>words of t/)
  })

  test('a band has the brand’s colour and room above and below; the words on it are readable', async () => {
    const drawn = await html([says('t', { band: 'accent', align: 'center', size: 'large' })])
    expect(drawn).toMatch(/class="band-accent"[^>]*background:#0f5d5a/)
    expect(drawn).toMatch(/font-size:19px[^>]*text-align:center;color:#ffffff/)
    expect(drawn).toContain('padding:24px 0 24px')
  })

  test('blocks for phones only are hidden elsewhere, and from programs without media queries', async () => {
    const drawn = await html([says('t', { only: 'phones' }), says('w', { only: 'wide' })])
    expect(drawn).toContain('class="band-paper only-phones"')
    expect(drawn).toContain('class="band-paper only-wide"')
    expect(drawn).toMatch(/\.only-phones,\.only-phones-outlook\{display:none;mso-hide:all\}/)
    expect(drawn).toMatch(/max-width:480px\)\{[\s\S]*\.only-phones\{display:block!important\}/)
  })

  test('columns are as wide as they are to be, and stay beside each other where they shall', async () => {
    const cols: Block = { key: 'c', kind: 'columns', columns: [[says('a')], [says('b')]], widths: [1, 3] } // prettier-ignore
    expect(await html([cols])).toMatch(/mj-column-per-25[\s\S]*mj-column-per-75/)
    const beside = await html([{ ...cols, phones: 'beside' }])
    // Grouped columns have their widths inline: no media query makes them stand below each other.
    expect(beside).toMatch(/width:25%;?"/)
  })

  test('a picture keeps its proportions, whatever its width', async () => {
    const image: Block = { key: 'i', kind: 'image', src: 'https://a.example/x.png', alt: '', width: 300, height: 150, style: { edge: true } } // prettier-ignore
    const [drawn] = /<img[^>]*>/.exec(await html([image])) ?? ['']
    expect(drawn).toContain('height="300"')
    expect(drawn).toContain('width="600"')
  })

  test('marks for those who write on it are in what they see only', async () => {
    const marked = mjmlOf([says('t')], new Writer(new Slots(), BRAND, true), OPTIONS)
    expect(marked).toContain('of-t')
    expect(marked).toContain('is-t')
    expect(await html([says('t')])).not.toMatch(/\b(of|is)-t\b/)
  })
})

describe('things with their pictures', () => {
  const items = (more: object = {}): Block => ({ key: 'i', kind: 'items', prices: true, images: true, variants: true, ...more }) // prettier-ignore
  const looks = new Map([['p1', { url: 'https://shop.example/brush', imageUrl: '/files/abcdefghijkl' }]]) // prettier-ignore
  const other = aLine({ productId: 'p2', title: 'Veil', quantity: 1 })

  test('show what the shop has of a product, lead to it, and name its kind', async () => {
    const drawn = await html([items()], [aLine({ variant: 'left-handed' }), other], looks)
    expect(drawn).toContain('src="https://y.example/files/abcdefghijkl"')
    expect(drawn).toContain('href="https://shop.example/brush"')
    expect(drawn).toContain('left-handed')
    // The one without a picture begins where the other does.
    expect(drawn.match(/width="64"/g)?.length).toBe(3)
  })

  test('what a line says of itself goes first', async () => {
    const own = aLine({ imageUrl: 'https://cdn.example/own.png', url: 'https://cdn.example/own' })
    const drawn = await html([items()], [own], looks)
    expect(drawn).toContain('https://cdn.example/own.png')
    expect(drawn).not.toContain('/files/')
  })

  test('without any picture there is no gap', async () => {
    expect(await html([items()], [aLine(), other])).not.toContain('width="64"')
  })

  test('side by side: as many as there are, up to three in a row', async () => {
    const many = Array.from({ length: 5 }, (_, index) => aLine({ productId: `p${index}` }))
    const drawn = await html([items({ grid: true })], many, looks)
    expect(drawn.match(/class="product"/g)).toHaveLength(6)
    const two = await html([items({ grid: true })], many.slice(0, 2), looks)
    expect(two.match(/class="product"/g)).toHaveLength(2)
  })

  test('a hostile address leads nowhere else', async () => {
    const odd = aLine({ url: 'https://a.example/"><script>', imageUrl: 'https://a.example/"x' })
    const drawn = await html([items()], [odd])
    expect(drawn).not.toContain('<script>')
    expect(drawn).not.toContain('"x"')
  })
})
