import { expect, test } from 'vitest'
import { aDefinition, anEmail } from '../../../testing/builders.ts'
import { goLiveFindings } from '../goLive.ts'
import { translationFindings } from './translationFindings.ts'

const message = anEmail('m', {
  name: 'Thanks',
  subject: 'Your order {{ order.number }}',
  body: 'Hello {{ customer.first_name | default: "there" }}',
})
const withGerman = (said: object) =>
  aDefinition({ steps: [{ ...message, translations: { de: said } }] })
const found = (said: object) =>
  translationFindings(withGerman(said)).map(({ code, title }) => [code, title])

test('what is not written in a language is told', () => {
  expect(found({ subject: 'Deine Bestellung {{ order.number }}' })).toEqual([
    ['untranslated-de', '“Thanks” is not all in German: text.'],
  ])
})

test('what is wrong in a language alone is found there, and never mended in another', () => {
  const said = { subject: 'Bestellung {{ order.nummer }}', body: 'Hallo' }
  const findings = translationFindings(withGerman(said))
  expect(findings).toHaveLength(1)
  expect(findings[0]?.title).toMatch(/^In German: /)
  expect(findings[0]).toMatchObject({ severity: 'error', place: { kind: 'step', key: 'm' } })
  expect(findings[0]).not.toHaveProperty('repair')
  expect(goLiveFindings(withGerman(said)).map(({ title }) => title)).toContain(findings[0]?.title)
})

test('one that is all there, and a message in one language, give nothing', () => {
  expect(found({ subject: 'Bestellung {{ order.number }}', body: 'Hallo' })).toEqual([])
  expect(translationFindings(aDefinition({ steps: [message] }))).toEqual([])
})
