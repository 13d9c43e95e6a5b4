import { act, fireEvent } from '@testing-library/react'
import { useState, type ReactNode } from 'react'
import { afterEach, expect, test, vi } from 'vitest'
import { show } from '../../testing/screen.tsx'
import { settleTyped, useDeferred } from './typed.ts'

afterEach(() => vi.useRealTimers())

interface Typing {
  type: (words: string) => void
  told: string[]
  show: (to: string) => void
}

/** A field that is told of later, beside what is done with its words. */
function typing(): Typing {
  const told: string[] = []
  const now = { told } as unknown as Typing
  function Field({ of }: { of: string }): ReactNode {
    now.type = useDeferred((words: string) => told.push(`${of}: ${words}`))
    return null
  }
  function Page(): ReactNode {
    const [of, setOf] = useState('one')
    now.show = setOf
    return of !== 'none' && <Field of={of} />
  }
  show(<Page />, {})
  return now
}

test('what is typed is told of once it has been drawn, and once', () => {
  vi.useFakeTimers()
  const { type, told } = typing()
  type('a')
  type('ab')
  expect(told).toEqual([])
  vi.runAllTimers()
  expect(told).toEqual(['one: ab'])
  settleTyped()
  expect(told).toEqual(['one: ab'])
})

test.each(['keyDown', 'pointerDown', 'click', 'focusOut', 'drop', 'popState'] as const)(
  'before a %s is heard by anybody, what was typed is known',
  (event) => {
    const { type, told } = typing()
    const heard = vi.fn<() => void>(() => told.push('heard'))
    const name = event.toLowerCase()
    document.body.addEventListener(name, heard)
    window.addEventListener(name, heard)
    type('a')
    fireEvent[event](event === 'popState' ? window : document.body)
    document.body.removeEventListener(name, heard)
    window.removeEventListener(name, heard)
    expect(told.slice(0, 2)).toEqual(['one: a', 'heard'])
  },
)

test('it is told of what it was typed for, though the field shows something else by then', () => {
  const now = typing()
  now.type('a')
  act(() => now.show('two'))
  now.type('b')
  settleTyped()
  expect(now.told).toEqual(['one: a', 'two: b'])
})

test('nothing is lost with the field', () => {
  const now = typing()
  now.type('a')
  act(() => now.show('none'))
  expect(now.told).toEqual(['one: a'])
})
