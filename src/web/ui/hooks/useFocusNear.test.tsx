import { fireEvent, render, screen } from '@testing-library/react'
import { useRef, useState, type ReactNode } from 'react'
import { expect, test } from 'vitest'
import { useFocusNear } from './useFocusNear.ts'

function List(): ReactNode {
  const [items, setItems] = useState(['a', 'b', 'c'])
  const [busy, setBusy] = useState<string | null>(null)
  const place = useRef<HTMLDivElement>(null)
  const onPress = useFocusNear(place)
  return (
    <>
      <div ref={place} onClickCapture={onPress}>
        {items.map((item) => (
          <p key={item}>
            <button
              type="button"
              onClick={() => setItems(items.filter((one) => one !== item))}
            >{`Remove ${item}`}</button>
            <button type="button" disabled={busy === item} onClick={() => setBusy(item)}>
              {`Mend ${item}`}
            </button>
          </p>
        ))}
      </div>
      <button type="button" onClick={() => setItems([])}>
        Clear
      </button>
    </>
  )
}

const button = (name: string) => screen.getByRole('button', { name })
function press(name: string): void {
  button(name).focus()
  fireEvent.click(button(name))
}

test('what is pressed and goes leaves the keyboard on what stood before it', () => {
  render(<List />)
  press('Remove b')
  expect(document.activeElement).toBe(button('Mend a'))
})
test('the first leaves it on what comes next', () => {
  render(<List />)
  press('Remove a')
  expect(document.activeElement).toBe(button('Remove b'))
})
test('whoever goes elsewhere is not called back', () => {
  render(<List />)
  press('Mend a')
  fireEvent.pointerDown(button('Clear'))
  button('Mend a').blur()
  fireEvent.click(button('Clear'))
  expect(document.activeElement).toBe(document.body)
})
