import { screen } from '@testing-library/react'
import { useState, type ReactNode } from 'react'
import { expect, test } from 'vitest'
import { press } from '../testing/inspector.tsx'
import { show } from '../testing/screen.tsx'
import { PageHeading } from './PageHeading.tsx'

/** A page that leads to another, by a button of its own or by one of the bar above. */
function Two(): ReactNode {
  const [page, setPage] = useState('Workflows')
  const go = () => setPage('Ledger')
  return (
    <>
      <button type="button" onClick={go}>
        Bar
      </button>
      <PageHeading key={page} title={page} />
      {page === 'Workflows' && (
        <button type="button" onClick={go}>
          Own
        </button>
      )}
    </>
  )
}

test('whoever came by what has gone begins at the heading; the window has its name', () => {
  show(<Two />, {})
  screen.getByRole('button', { name: 'Own' }).focus()
  press('Own')
  expect(document.activeElement).toBe(screen.getByRole('heading', { name: 'Ledger' }))
  expect(document.title).toBe('Ledger · Yomble')
})

test('whoever came by the bar stays there', () => {
  show(<Two />, {})
  const bar = screen.getByRole('button', { name: 'Bar' })
  bar.focus()
  press('Bar')
  expect(document.activeElement).toBe(bar)
})
