import { fireEvent, render, screen } from '@testing-library/react'
import { useState, type ReactNode } from 'react'
import { expect, test } from 'vitest'
import { DataTable, type DataColumn, type Sort } from './DataTable.tsx'

interface Jar {
  name: string
  honey: string
  grams: number | null
}
const JARS: Jar[] = [
  { name: 'Heather', honey: 'dark', grams: 500 },
  { name: 'acacia', honey: 'light', grams: 1000 },
  { name: 'Linden', honey: 'light', grams: null },
  { name: 'Buckwheat', honey: 'dark', grams: 500 },
]
const COLUMNS: DataColumn<Jar>[] = [
  { id: 'name', head: 'Name', cell: ({ name }) => name, sortBy: ({ name }) => name },
  {
    id: 'grams',
    head: 'Grams',
    isFigure: true,
    startsDown: true,
    cell: ({ grams }) => grams ?? '–',
    sortBy: ({ grams }) => grams ?? undefined,
  },
  { id: 'note', head: 'Note', cell: () => 'none' },
]

function Jars({ inSections }: { inSections?: boolean }): ReactNode {
  const [sort, setSort] = useState<Sort | null>(null)
  return (
    <DataTable<Jar>
      rows={JARS}
      columns={COLUMNS}
      idOf={({ name }) => name}
      sort={sort}
      thenBy="name"
      onSort={setSort}
      sectionOf={inSections ? ({ honey }) => honey : undefined}
    />
  )
}

const names = () =>
  screen.getAllByRole('row').flatMap((row) => row.querySelector('td')?.textContent ?? [])
const press = (head: string) => fireEvent.click(screen.getByRole('button', { name: head }))
const sortOf = (head: string) =>
  screen.getByRole('columnheader', { name: head }).getAttribute('aria-sort')

test('rows stand as they came until somebody sorts them; figures from the largest, those without last', () => {
  render(<Jars />)
  expect(names()).toEqual(['Heather', 'acacia', 'Linden', 'Buckwheat'])
  expect(sortOf('Grams')).toBeNull()
  press('Grams')
  expect(names()).toEqual(['acacia', 'Buckwheat', 'Heather', 'Linden'])
  expect(sortOf('Grams')).toBe('descending')
  press('Grams')
  expect(names()).toEqual(['Buckwheat', 'Heather', 'acacia', 'Linden'])
  expect(sortOf('Grams')).toBe('ascending')
  press('Name')
  expect(names()).toEqual(['acacia', 'Buckwheat', 'Heather', 'Linden'])
  // What nothing sorts by has no button.
  expect(screen.queryByRole('button', { name: 'Note' })).toBeNull()
})

test('rows stand together under their headings', () => {
  render(<Jars inSections />)
  expect(screen.getAllByRole('rowheader').map(({ textContent }) => textContent)).toEqual([
    'dark',
    'light',
  ])
  expect(names()).toEqual(['Heather', 'Buckwheat', 'acacia', 'Linden'])
})
