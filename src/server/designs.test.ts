import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { Library } from '../contract/files.ts'
import type { KeptDesign, Preview } from '../contract/messages.ts'
import type { Block } from '../core/blocks/blocks.ts'
import { FIXED_WORDS } from '../core/messages/fixedWords.ts'
import { plainBrand } from '../core/messages/brand.ts'
import { makeApi, type Api } from '../testing/api.ts'
import { aDefinition, anEmail, on, orderEvent, START } from '../testing/builders.ts'
import { IMAGE } from '../testing/image.ts'
import { saveBrand } from '../backend/shop/index.ts'
import { SHOP } from '../testing/world.ts'

let api: Api
beforeAll(async () => {
  api = await makeApi()
  await api.world.post(
    orderEvent('order.placed', START - 500, { id: 'p1', number: 'P1' }, { language: 'de-AT', firstName: 'Ines' }), // prettier-ignore
  )
})
afterAll(() => api.close())

const heading = (text: string): Block => ({ key: 'h', kind: 'heading', level: 1, text })
const parts = (text: string) => ({ name: 'Thanks', subject: 'Hello', previewText: '', blocks: [heading(text)] }) // prettier-ignore

describe('designs', () => {
  test('are kept, changed in revisions, renamed and taken out; how many messages use them is known', async () => {
    const made = (await api.call('POST', '/api/designs', parts('One'))).json<{ id: string; revision: number }>() // prettier-ignore
    expect(made.revision).toBe(1)
    const { id } = made
    await api.world.publish(aDefinition({ steps: [anEmail('m', { format: 'designed', blocks: [heading('One')], design: made })] })) // prettier-ignore
    const changed = await api.call('PUT', `/api/designs/${id}`, { ...parts('Two'), revision: 1 })
    expect(changed.json()).toEqual({ id, revision: 2 })
    const late = await api.call('PUT', `/api/designs/${id}`, { ...parts('Three'), revision: 1 })
    expect(late.statusCode).toBe(409)
    expect((await api.call('PUT', `/api/designs/${id}/name`, { name: 'New' })).statusCode).toBe(204)
    const all = (await api.call('GET', '/api/designs')).json<KeptDesign[]>()
    expect(all).toMatchObject([{ id, revision: 2, name: 'New', uses: 1, blocks: [heading('Two')] }])
    const before = await api.call('GET', `/api/designs/${id}/revisions/1`)
    expect(before.json()).toMatchObject({ revision: 1, blocks: [heading('One')] })
    expect((await api.call('DELETE', `/api/designs/${id}`)).statusCode).toBe(204)
    expect((await api.call('GET', '/api/designs')).json()).toEqual([])
    expect((await api.call('GET', `/api/designs/${id}/revisions/1`)).statusCode).toBe(404)
  })

  test('are refused with the place of what is wrong', async () => {
    const bad = await api.call('POST', '/api/designs', { ...parts('x'), blocks: [{ key: 'h', kind: 'heading', level: 3, text: '' }] }) // prettier-ignore
    expect(bad.statusCode).toBe(400)
    expect(bad.json()).toMatchObject({ problems: [{ path: expect.stringContaining('blocks.0') }] })
    expect((await api.call('POST', '/api/designs', { ...parts('x'), blocks: [] })).statusCode).toBe(400) // prettier-ignore
    expect((await api.call('PUT', '/api/designs/none', { ...parts('x'), revision: 1 })).statusCode).toBe(404) // prettier-ignore
  })
})

describe('a message in several languages', () => {
  const blocks: Block[] = [
    heading('Thank you, {{ customer.first_name | default: "friend" }}'),
    { key: 's', kind: 'summary' },
  ]
  const message = anEmail('m', {
    format: 'designed',
    purpose: 'marketing',
    subject: 'Your order',
    blocks,
    translations: {
      de: { subject: 'Deine Bestellung', blocks: { h: { text: 'Danke, {{ customer.first_name | default: "Imker" }}' } } },
      nl: { subject: 'Je bestelling' },
    },
  }) // prettier-ignore
  const look = async (over: object = {}) =>
    (await api.call('POST', '/api/messages/preview', { trigger: on('order.placed'), message: [message], sample: null, ...over })) // prettier-ignore
      .json<Preview>()

  test('is looked at in that of its reader, or in any; the fixed words are, too', async () => {
    const theirs = await look()
    expect(theirs.subject).toBe('Deine Bestellung')
    expect(theirs.html).toContain('Danke, Ines')
    expect(theirs.html).toContain('Gesamt')
    expect(theirs.html).toContain('Keine solchen Nachrichten mehr')
    expect(theirs.text).toContain('Gesamt: €\u00a042,00')
    const english = await look({ language: 'en-IE' })
    expect(english).toMatchObject({ subject: 'Your order' })
    expect(english.html).toContain('Thank you, Ines')
    expect(english.html).toContain('Total')
  })

  test('says words that the shop’s brand brings', async () => {
    const words = { ...FIXED_WORDS['en'], total: 'Totaal', wayOut: 'Niets meer hiervan' } as never
    await saveBrand(api.world.db, SHOP, { ...plainBrand('Combwright'), postalAddress: 'Sintra', languages: { nl: { words, footer: 'Voor imkers' } } }) // prettier-ignore
    const dutch = await look({ language: 'nl' })
    expect(dutch.subject).toBe('Je bestelling')
    expect(dutch.html).toMatch(/Totaal[\s\S]*Voor imkers[\s\S]*Niets meer hiervan/)
  })

  test('leaves in the language of its reader', async () => {
    await api.world.publish(aDefinition({ name: 'Several', steps: [message] }))
    await api.world.post(orderEvent('order.placed', START + 1000, { id: 'p2' }, { language: 'de' }))
    await api.world.settle()
    const mails = await api.world.mails()
    expect(mails.map(({ subject }) => subject)).toContain('Deine Bestellung')
  })

  test('merge fields are another system’s where that is asked for', async () => {
    const liquid = await look({ language: 'en-IE', tags: 'liquid' })
    expect(liquid.html).toContain("Thank you, {{ customer.first_name | default: 'friend' }}")
    const own = await look({ language: 'en-IE', tags: '%{field}%' })
    expect(own.html).toContain('Thank you, %customer.first_name%')
    const odd = await api.call('POST', '/api/messages/preview', { trigger: on('order.placed'), message: [message], sample: null, tags: '<script>{field}' }) // prettier-ignore
    expect(odd.statusCode).toBe(400)
  })
})

describe('pictures', () => {
  const png = { type: 'image/png' }
  const list = async () => (await api.call('GET', '/api/files')).json<Library>().pictures

  test('are listed with where they are used, replaced in their proportions, and taken out', async () => {
    const { url } = (await api.call('POST', '/api/files?name=hive.png', IMAGE, png)).json<{ url: string }>() // prettier-ignore
    const id = url.replace('/files/', '')
    expect(await list()).toMatchObject([{ id, name: 'hive.png', width: 3, height: 2, uses: [] }])
    const image: Block = { key: 'i', kind: 'image', src: url, alt: 'A hive', width: 3 }
    const workflow = await api.world.publish(aDefinition({ name: 'With a picture', steps: [anEmail('m', { format: 'designed', blocks: [image] })] })) // prettier-ignore
    const used = { kind: 'workflow', name: 'With a picture', workflow }
    expect(await list()).toMatchObject([{ id, uses: [used] }])
    expect((await api.call('PUT', `/api/files/${id}`, IMAGE, png)).statusCode).toBe(204)
    const square = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR4nGNgYGBgAAAABQABh6FO1AAAAABJRU5ErkJggg==', 'base64') // prettier-ignore
    const other = await api.call('PUT', `/api/files/${id}`, square, png)
    expect(other.statusCode).toBe(400)
    expect(other.json()).toMatchObject({ detail: expect.stringContaining('1 × 1 instead of 3 × 2') }) // prettier-ignore
    expect((await api.call('PUT', '/api/files/none', IMAGE, png)).statusCode).toBe(404)
    expect((await api.call('DELETE', `/api/files/${id}`)).statusCode).toBe(204)
    expect(await list()).toEqual([])
  })

  test('of more pixels than a phone has memory for are refused before they are decoded', async () => {
    const huge = Buffer.from(IMAGE)
    // The size that a PNG says it has, in its header.
    huge.writeUInt32BE(20_000, 16)
    huge.writeUInt32BE(20_000, 20)
    const answer = await api.call('POST', '/api/files?name=bomb.png', huge, png)
    expect(answer.statusCode).toBe(400)
    expect(answer.json()).toMatchObject({ detail: expect.stringContaining('20000 × 20000 pixels') }) // prettier-ignore
  })
})
