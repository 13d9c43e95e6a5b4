import { useSearchParams } from 'react-router'
import { SPANS, type ListView } from './listView.ts'
import { isColumn } from './columns.tsx'

const USUAL_DAYS = 30

/** How the list is shown; kept in the address, so that a link and the way back show the same. */
export function useListView(): [ListView, (change: Partial<ListView>) => void] {
  const [params, setParams] = useSearchParams()
  const sort = params.get('sort')
  const view: ListView = {
    search: params.get('search') ?? '',
    label: params.get('label'),
    sort: isColumn(sort) ? sort : 'name',
    down: params.get('down') === 'yes',
    byTrigger: params.get('by') === 'trigger',
    days: SPANS.find((one) => String(one) === params.get('days')) ?? USUAL_DAYS,
  }
  const change = (over: Partial<ListView>): void => {
    const next = { ...view, ...over }
    const entries: [string, string][] = [
      ['search', next.search],
      ['label', next.label ?? ''],
      ['sort', next.sort === 'name' ? '' : next.sort],
      ['down', next.down ? 'yes' : ''],
      ['by', next.byTrigger ? 'trigger' : ''],
      ['days', next.days === USUAL_DAYS ? '' : String(next.days)],
    ]
    setParams(
      entries.filter(([, value]) => value !== ''),
      // At once, as a box that is ticked shows its tick at once.
      { replace: true, flushSync: true },
    )
  }
  return [view, change]
}
