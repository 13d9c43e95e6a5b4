import { expect, test } from 'vitest'
import { isGuessable } from './guessable.ts'

const MAREN = { email: 'maren@combwright.example', name: 'Maren Dahl' }

test.each([
  ['what has leaked', '1qaz2wsx3edc'],
  ['the same in other letters, with a year behind it', 'SonyEricsson 2026!'],
  ['little beside the own name', 'MarenMarenMaren1'],
  ['little beside the address', 'combwright-combwright'],
  ['little beside what everybody tries', 'password123456!'],
  ['one sign again and again', 'aaaaaaaaaaaaaaa'],
])('%s is guessable', (_what, password) => {
  expect(isGuessable(password, MAREN)).toBe(true)
})

test.each(['first inspection day', 'four lazy drones hum', 'maren keeps bees on the roof'])(
  '“%s” is not',
  (password) => {
    expect(isGuessable(password, MAREN)).toBe(false)
  },
)
