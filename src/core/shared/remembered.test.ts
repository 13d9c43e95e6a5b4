import { expect, test, vi } from 'vitest'
import { remembered } from './remembered.ts'

test('an object is looked into once, another that looks like it by itself', () => {
  const find = vi.fn<(about: { name: string }) => string | undefined>(() => undefined)
  const found = remembered(find)
  const one = { name: 'one' }
  expect([found(one), found(one), found({ ...one })]).toEqual([undefined, undefined, undefined])
  expect(find).toHaveBeenCalledTimes(2)
})

test('what could not be found is looked for again', () => {
  let fails = true
  const found = remembered((_about: object) => {
    if (fails) throw new RangeError('Not yet')
    return 'there'
  })
  const about = {}
  expect(() => found(about)).toThrow('Not yet')
  fails = false
  expect(found(about)).toBe('there')
})
