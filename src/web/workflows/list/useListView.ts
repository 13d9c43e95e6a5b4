import { useSearchParams } from 'react-router'
import { COLUMNS, type Column, type ListView } from './listView.ts'

/** How the list is shown; kept in the address, so that a link and the way back show the same. */
export function useListView(): [ListView, (change: Partial<ListView>) => void] {
  const [params, setParams] = useSearchParams()
  const sort = params.get('sort')
  const view: ListView = {
    search: params.get('search') ?? '',
    label: params.get('label'),
    sort: sort !== null && sort in COLUMNS ? (sort as Column) : 'name',
    down: params.get('down') === 'yes',
    byTrigger: params.get('by') === 'trigger',
  }
  const change = (over: Partial<ListView>): void => {
    const next = { ...view, ...over }
    const entries: [string, string][] = [
      ['search', next.search],
      ['label', next.label ?? ''],
      ['sort', next.sort === 'name' ? '' : next.sort],
      ['down', next.down ? 'yes' : ''],
      ['by', next.byTrigger ? 'trigger' : ''],
    ]
    setParams(
      entries.filter(([, value]) => value !== ''),
      { replace: true },
    )
  }
  return [view, change]
}
