import { act, render, screen } from '@testing-library/react'
import type { ReactNode } from 'react'
import { expect, test } from 'vitest'
import { useFocusWhileBusy } from './useFocusWhileBusy.ts'

function Page({ isBusy }: { isBusy: boolean }): ReactNode {
  useFocusWhileBusy()
  return (
    <>
      <button type="button" disabled={isBusy}>
        Save
      </button>
      <button type="button">Other</button>
    </>
  )
}

const button = (name: string) => screen.getByRole('button', { name })

/** Presses "Save", which takes a while, during which something else may happen. */
async function saved(meanwhile: () => void): Promise<void> {
  const { rerender } = render(<Page isBusy={false} />)
  act(() => button('Save').focus())
  // Browsers take the focus from what is disabled.
  act(() => button('Save').blur())
  rerender(<Page isBusy />)
  act(meanwhile)
  rerender(<Page isBusy={false} />)
  // What has changed is told of a moment later.
  await act(async () => {})
}

test('the button that is there again has the keyboard again', async () => {
  await saved(() => {})
  expect(document.activeElement).toBe(button('Save'))
})

test('nothing is taken from whoever has gone elsewhere', async () => {
  await saved(() => button('Other').focus())
  expect(document.activeElement).toBe(button('Other'))
})

test('nor given to whoever has pressed the empty page', async () => {
  await saved(() => void document.body.dispatchEvent(new Event('pointerdown', { bubbles: true })))
  expect(document.activeElement).toBe(document.body)
})
