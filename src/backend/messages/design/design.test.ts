import mjml from 'mjml'
import { beforeEach, describe, expect, test } from 'vitest'
import type { Block, LeafBlock } from '../../../core/blocks/blocks.ts'
import { plainBrand, type Brand } from '../../../core/messages/brand.ts'
import { anEmail } from '../../../testing/builders.ts'
import { facts } from '../../../testing/coreFacts.ts'
import { HOSTILE } from '../../../testing/hostile.ts'
import type { Product } from '../../recommend/index.ts'
import { escapeHtml } from '../html.ts'
import { renderEmail } from '../render.ts'
import { RenderError } from '../renderError.ts'
import { mjmlOf } from './mjmlOf.ts'
import { Slots } from './slots.ts'
import { Writer } from './writer.ts'

const BRAND: Brand = {
  ...plainBrand('Combwright'),
  logo: { src: 'https://combwright.example/logo.png', alt: 'Combwright', width: 120, height: 40 },
  footer: 'For people who keep bees.',
  postalAddress: 'Combwright\n1 Hive Lane\n1200 Lisbon',
  helpEmail: 'care@combwright.example',
  links: [{ label: 'Guides', href: 'https://combwright.example/guides' }],
  social: [{ label: 'Forum', href: 'https://forum.combwright.example' }],
}

const always = { kind: 'field' as const, field: 'order.total', op: 'known' }
const never = { kind: 'not' as const, of: always }

/** One block of each kind. */
const EVERY_KIND: Block[] = [
  { key: 'h', kind: 'heading', level: 1, text: 'Thank you, {{ customer.first_name | default: "friend" }}' },
  { key: 't', kind: 'text', text: [
    { kind: 'paragraph', text: [{ text: 'Order ' }, { text: '{{ order.number }}', bold: true }, { text: '\nsee ', italic: true }, { text: 'it', href: 'https://combwright.example/o/{{ order.number }}?a=1&b=2' }] },
    { kind: 'list', ordered: true, items: [[{ text: 'first' }], [{ text: 'second' }]] },
    { kind: 'list', ordered: false, items: [[{ text: 'dot' }]] },
  ] },
  { key: 'b', kind: 'button', label: 'Look at it', href: 'https://combwright.example/orders' },
  { key: 'i', kind: 'image', src: 'https://combwright.example/bee.png', alt: 'A bee', width: 300, height: 200, href: 'https://combwright.example' },
  { key: 'items', kind: 'items', prices: true },
  { key: 'sum', kind: 'summary' },
  { key: 'track', kind: 'tracking', label: 'Follow your parcel' },
  { key: 'code', kind: 'coupon', text: 'Ten per cent off, until {{ coupon.expires_on | default: "soon" }}' },
  { key: 'p', kind: 'products', by: 'best', count: 3, columns: 2, prices: true, images: true },
  { key: 'd', kind: 'divider' },
  { key: 'menu', kind: 'menu', links: [{ label: 'Shop', href: 'https://combwright.example/shop' }] },
  { key: 'soc', kind: 'social' },
  { key: 'help', kind: 'help', text: 'Questions?' },
  { key: 'own', kind: 'html', html: '<p>Own &amp; <b>{{ order.number }}</b></p>' },
  { key: 'cols', kind: 'columns', columns: [
    [{ key: 'c1', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'left' }] }] }],
    [{ key: 'c2', kind: 'button', label: 'right', href: 'mailto:care@combwright.example' }],
  ] },
] // prettier-ignore

const COUPON = { coupons: [{ step: 'c', code: 'BEE-1', expiresAt: null }] }

function render(
  blocks: Block[],
  over: Parameters<typeof facts>[0] = {},
  {
    wayOut = null as string | null,
    hidden = [] as string[],
    marketing = false,
    products = [] as Product[],
    kept = [] as [string, LeafBlock[]][],
  } = {},
) {
  const purpose = marketing ? ('marketing' as const) : ('transactional' as const)
  return renderEmail(
    anEmail('m', { format: 'designed', purpose, subject: 'Hi', previewText: 'It is here', blocks }),
    facts(over),
    {
      brand: BRAND,
      publicUrl: 'https://yomble.example',
      unsubscribeUrl: wayOut,
      holds: (block) => !hidden.includes(block),
      productsOf: async () => products,
      looksOf: async () => new Map(),
      keptOf: async () => new Map(kept),
    },
  )
}

/** A text block of one paragraph. */
const says = (text: string): Block => ({
  key: 't',
  kind: 'text',
  text: [{ kind: 'paragraph', text: [{ text }] }],
})

describe('every kind of block', () => {
  test('is valid MJML, strictly', async () => {
    const source = mjmlOf(EVERY_KIND, new Writer(new Slots(), BRAND), {
      lang: 'en-IE',
      hasWayOut: true,
      hasOrderData: true,
      isMarked: false,
    })
    const { errors } = await mjml(source, { validationLevel: 'strict', fonts: {} })
    expect(errors).toEqual([])
  })
  test('says the same in both parts, and loads nothing but its images', async () => {
    const { html, text } = await render(EVERY_KIND, COUPON)
    for (const words of ['Order ', '1001', 'first', 'dot', 'Look at it', 'Bee brush', '€42.00', 'BEE-1', 'Questions?', 'left', 'right', 'until soon']) {
      expect(html).toContain(words)
      expect(text).toContain(words)
    } // prettier-ignore
    expect(text).toContain('it (https://combwright.example/o/1001?a=1&b=2)')
    expect(html).toContain('href="https://combwright.example/o/1001?a=1&amp;b=2"')
    expect(text).toContain('1. first\n2. second')
    expect(html).not.toMatch(/<link|@import|fonts\.googleapis|<script(?! type="application\/ld)/)
    expect(html).not.toMatch(/[\uE000\uE001]/)
  })
  test('images have alt text, width and height; the rest is in tables with styles of their own', async () => {
    const { html } = await render(EVERY_KIND, COUPON)
    const images = [...(html ?? '').matchAll(/<img[^>]*>/g)].map(([tag]) => tag)
    expect(images).toHaveLength(2)
    for (const tag of images) {
      expect(tag).toMatch(/\balt="[^"]+"/)
      expect(tag).toMatch(/\bwidth="\d+"/)
      expect(tag).toMatch(/\bheight="\d+"/)
    }
    expect(html).toMatch(/<table[^>]*role="presentation"/)
    expect(html).toContain('prefers-color-scheme: dark')
  })
})

describe('what is left out', () => {
  test('a block whose condition does not hold, in both parts; columns with all in them', async () => {
    const { html, text } = await render(
      [
        { ...says('for some'), onlyIf: never },
        { key: 'cols', kind: 'columns', onlyIf: never, columns: [[{ key: 'in', kind: 'help', text: 'inside', onlyIf: always }], []] },
        { key: 'last', kind: 'help', text: 'for all' },
      ],
      {},
      { hidden: ['t', 'cols'] },
    ) // prettier-ignore
    for (const part of [html, text]) {
      expect(part).not.toContain('for some')
      expect(part).not.toContain('inside')
      expect(part).toContain('for all')
    }
  })
  test('the tracking button without a link to follow', async () => {
    const blocks: Block[] = [{ key: 'track', kind: 'tracking', label: 'Follow it' }, says('x')]
    expect((await render(blocks)).html).not.toContain('Follow it')
    const url = 'https://parcels.example/t/1?x=1&y=2'
    const sent = await render(blocks, { order: { trackingUrl: url } })
    expect(sent.html).toContain(`href="${escapeHtml(url)}"`)
    expect(sent.text).toContain(`Follow it: ${url}`)
  })
  test('recommendations when there are none; else title, price, picture and link', async () => {
    const blocks: Block[] = [{ key: 'p', kind: 'products', by: 'best', count: 2, columns: 2, prices: true, images: true }, says('x')] // prettier-ignore
    expect((await render(blocks)).html).not.toContain('valign="top" width="50%"')
    const product = { id: 'p', title: 'Smoker <1>', category: null, priceMinor: 3900, currency: 'EUR', url: 'https://combwright.example/p', imageUrl: 'https://combwright.example/p.png' } // prettier-ignore
    const { html, text } = await render(blocks, {}, { products: [product, { ...product, url: null, imageUrl: null }] }) // prettier-ignore
    expect(html?.match(/Smoker &lt;1&gt;/g)).toHaveLength(2)
    expect(html?.match(/€39\.00/g)).toHaveLength(2)
    expect(html?.match(/p\.png/g)).toHaveLength(1)
    expect(text).toContain('Smoker <1>: https://combwright.example/p\nSmoker <1>')
  })
  test('a merge field that is unknown and has no fallback stops it', async () => {
    await expect(render([says('{{ order.tracking_url }}')])).rejects.toThrow(RenderError)
    await expect(render([says('{{ constructor.name }}')])).rejects.toThrow(RenderError)
    await expect(render([says('{{ customer.__proto__ }}')])).rejects.toThrow(RenderError)
    await expect(render([])).rejects.toThrow(/no blocks/)
  })
})

describe('what customers and products are called', () => {
  test.each(HOSTILE)('%s stays what it is', async (name) => {
    const blocks = [
      says('Dear {{ customer.first_name }}'),
      { key: 'items', kind: 'items', prices: false } as const,
    ]
    const line = { ...facts().order?.lines[0], title: name }
    const { html, text } = await render(blocks, {
      customer: { firstName: name },
      order: { lines: [line as never] },
    })
    expect(html).toContain(`Dear ${escapeHtml(name)}`)
    expect(text).toContain(`Dear ${name}`)
    expect(text).toContain(`× ${name}`)
    expect(html).not.toMatch(/<(svg|img src=x)|<script>/)
    // The order's data stays data.
    const data = /<script type="application\/ld\+json">(.*?)<\/script>/s.exec(html ?? '')?.[1] ?? ''
    const parsed = JSON.parse(data) as { acceptedOffer: { itemOffered: { name: string } }[] }
    expect(parsed.acceptedOffer[0]?.itemOffered.name).toBe(name)
  })
  test('private characters of a text are no slots', async () => {
    const { html } = await render([says('\uE0000\uE001 {{ order.number }}')])
    expect(html).toContain('0 1001')
  })
  test('a link that is none is not sent', async () => {
    const button: Block = { key: 'b', kind: 'button', label: 'x', href: '{{ order.tracking_url }}' }
    const trackingUrl = 'javascript:alert(1)'
    await expect(render([button], { order: { trackingUrl } })).rejects.toThrow(/no web address/)
    const part: Block = { ...button, href: 'https://x.example/{{ customer.first_name }}' }
    const { html } = await render([part], { customer: { firstName: '../"?&' } })
    expect(html).toContain('href="https://x.example/..%2F%22%3F%26"')
  })
})

describe('own HTML', () => {
  const own = (html: string) => render([{ key: 'own', kind: 'html', html }])
  test('what could do harm is taken out, what is written stays', async () => {
    const { html } = await own(
      '<p style="color:#ff0000;background:url(javascript:x)" onclick="x()">Hi <script>alert(1)</script><a href="javascript:x">bad</a> <a href="https://ok.example">good</a></p><form><input></form><iframe src="https://x.example"></iframe>',
    )
    expect(html).toContain('color:#ff0000')
    expect(html).toContain('href="https://ok.example"')
    expect(html).not.toMatch(/onclick|alert|javascript|<form|<input|<iframe|url\(/)
  })
  test('merge fields in its text, not in its tags', async () => {
    const { html } = await own('<b>{{ order.number }}</b>')
    expect(html).toContain('<b>1001</b>')
    await expect(own('<a href="{{ order.number }}">x</a>')).rejects.toThrow(/text only/)
  })
})

describe('the way out and the data for mail programs', () => {
  test('marketing has the link, in both parts, and no order data', async () => {
    const out = 'https://yomble.example/u/abc.def'
    const { html, text } = await render([says('x')], {}, { wayOut: out, marketing: true })
    expect(html).toContain(`href="${out}"`)
    expect(text).toContain(`No more of these: ${out}`)
    expect(html).not.toContain('ld+json')
  })
  test('the footer has the brand’s words, address and links', async () => {
    const { html, text } = await render([says('x')])
    for (const words of ['For people who keep bees.', 'Combwright, 1 Hive Lane, 1200 Lisbon']) {
      expect(html).toContain(words)
      expect(text).toContain(words)
    }
    expect(html).not.toContain('No more of these')
  })
  test('an order in the vocabulary of schema.org', async () => {
    const { html } = await render([says('x')])
    const data =
      /<script type="application\/ld\+json">(.*?)<\/script>/s.exec(html ?? '')?.[1] ?? '{}'
    expect(JSON.parse(data)).toMatchObject({
      '@type': 'Order',
      orderNumber: '1001',
      orderStatus: 'https://schema.org/OrderProcessing',
      priceCurrency: 'EUR',
      price: '42.00',
    })
  })
})

test('kept blocks stand where they are used, with the condition of the place', async () => {
  const kept: [string, LeafBlock[]][] = [['s1', [{ key: 'a', kind: 'help', text: 'From the shelf' }, { key: 'd', kind: 'divider' }]]] // prettier-ignore
  const use = (over: object = {}): Block => ({ key: 'u', kind: 'kept', kept: 's1', ...over })
  const blocks: Block[] = [use(), { ...use(), key: 'v' }, says('own')]
  const { html, text } = await render(blocks, {}, { kept })
  expect(html?.match(/From the shelf/g)).toHaveLength(2)
  expect(text.match(/From the shelf/g)).toHaveLength(2)
  const hidden = await render([use({ onlyIf: always }), says('own')], {}, { kept, hidden: ['u.a', 'u.d'] }) // prettier-ignore
  expect(hidden.html).not.toContain('From the shelf')
  await expect(render([use({ kept: 'gone' })], {}, { kept })).rejects.toThrow(/kept block/)
})

test('what an order came to, and where it goes', async () => {
  const address = { name: 'Inês <x>', street: 'Rua 1', postcode: '1200', city: 'Lisboa', country: 'PT' } // prettier-ignore
  const details = {
    amounts: { itemsMinor: 4000, shippingMinor: 500, discountMinor: 300, taxMinor: 785 },
    shippingAddress: address,
    billingAddress: { ...address, name: null, company: 'Bees & Co' },
  }
  const blocks: Block[] = [{ key: 's', kind: 'summary', addresses: true }]
  const { html, text } = await render(blocks, { order: { details } })
  expect(text).toContain('Items: €40.00\nDiscount: -€3.00\nShipping: €5.00\nOf which tax: €7.85\nTotal: €42.00') // prettier-ignore
  expect(text).toContain('Goes to: Inês <x>, Rua 1, 1200 Lisboa, Portugal')
  expect(html).toContain('Inês &lt;x&gt;<br>Rua 1<br>1200 Lisboa<br>Portugal')
  expect(html).toContain('Bees &amp; Co')
  const short = await render([{ key: 's', kind: 'summary' }], { order: { details } })
  expect(short.html).not.toContain('Rua 1')
})

describe('size', () => {
  let blocks: Block[]
  beforeEach(() => {
    blocks = Array.from({ length: 8 }, (_, index) => ({ ...says('word '.repeat(3000)), key: `t${index}` })) // prettier-ignore
  })
  test('over 102 kB nothing is sent; thirty lines are far from it', async () => {
    await expect(render(blocks)).rejects.toThrow(/102 kB/)
    const line = facts().order?.lines[0]
    const lines = Array.from({ length: 30 }, () => line as never)
    const { html } = await render(EVERY_KIND, { ...COUPON, order: { lines } })
    expect(Buffer.byteLength(html ?? '')).toBeLessThan(50_000)
  })
})
