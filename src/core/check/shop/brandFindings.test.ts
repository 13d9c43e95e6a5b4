import { describe, expect, test } from 'vitest'
import type { Block } from '../../blocks/blocks.ts'
import { BANDS, INKS } from '../../blocks/style.ts'
import { plainBrand, type Brand } from '../../messages/brand.ts'
import { contrast } from '../../messages/colours.ts'
import { DESIGNS } from '../../designs/index.ts'
import { aDefinition, anEmail } from '../../../testing/builders.ts'
import { brandFindings } from './brandFindings.ts'

// W3C, "Understanding SC 1.4.3" and technique G18: #767676 is the lightest grey that can be read on white (4.54),
// #777777 is not (4.48); black on white is 21. From memory.
test('contrast is that of WCAG 2.2', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5)
  expect(contrast('#ffffff', '#ffffff')).toBe(1)
  expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2)
  expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2)
  expect(contrast('#ffffff', '#767676')).toBeCloseTo(4.54, 2)
})

const brandWith = (colours: Partial<Brand['colours']>): Brand => {
  const brand = plainBrand('Combwright')
  return { ...brand, colours: { ...brand.colours, ...colours } }
}
const found = (blocks: Block[], brand: Brand) => {
  const definition = aDefinition({ steps: [anEmail('m', { format: 'designed', blocks })] })
  return brandFindings(definition, brand).map(({ code, part }) => [code, part])
}
const says: Block = { key: 't', kind: 'text', text: [{ kind: 'paragraph', text: [{ text: 'Hello' }] }] } // prettier-ignore

describe('what cannot be read', () => {
  test('every choice within the brand a shop begins with can be', () => {
    for (const band of BANDS) {
      for (const ink of INKS) {
        expect(found([{ ...says, style: { band, ink } }], brandWith({})), `${ink} on ${band}`).toEqual([]) // prettier-ignore
      }
    }
  })

  test('so can the designs that come with it', () => {
    for (const { make } of DESIGNS) {
      const { blocks } = make({ name: 'Combwright', site: 'https://combwright.example' })
      expect(found(blocks, brandWith({}))).toEqual([])
    }
  })

  test('a pale accent is found where words are written in it, or on it', () => {
    const pale = brandWith({ accent: '#e0c070' })
    const at = (key: string) => [['contrast', { kind: 'block', key }]]
    expect(found([says], pale)).toEqual([])
    expect(found([{ ...says, style: { ink: 'accent' } }], pale)).toEqual(at('t'))
    expect(found([{ key: 'b', kind: 'button', label: 'Look', href: 'https://a.example' }], pale)).toEqual(at('b')) // prettier-ignore
    const inColumns: Block = { key: 'c', kind: 'columns', columns: [[says], []], style: { band: 'accent' } } // prettier-ignore
    expect(found([inColumns], pale)).toEqual(at('t'))
    expect(found([inColumns], brandWith({ accent: '#e0c070', onAccent: '#1d2826' }))).toEqual([])
  })
})

test('words that are in no language of a message are found', () => {
  const message = anEmail('m', { translations: { de: { subject: 'a' }, nl: { subject: 'b' } } })
  const definition = aDefinition({ steps: [message] })
  expect(brandFindings(definition, brandWith({})).map(({ code }) => code)).toEqual(['fixed-words-nl']) // prettier-ignore
})
