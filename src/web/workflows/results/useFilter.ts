import { useSearchParams } from 'react-router'
import { RESULT_WINDOWS } from '../../../contract/results.ts'
import { SHOWN_MEASURES, type ShownMeasure } from './measured.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { isCalendarDate, startOfDate } from '../../../core/shared/localTime.ts'

export const SPANS = [30, 90, 180, 365] as const

/** Whose results are shown, as the address keeps it. */
export interface Filter {
  days: number
  /** Calendar dates of a time of one's own, both of them in it; empty where `days` says it. */
  since: string
  until: string
  windowDays: number
  version: number | null
  /** A path or arm: "step branch", as `wayKey` writes it; empty for all. */
  way: string
  /** The time of the same length before it stands beside it. */
  before: boolean
  /** What the timetable shows at every stop and path. */
  show: ShownMeasure
  /** Of one message: what stands beside it; empty for nothing. */
  beside: string
}

/** A path or arm in one word, for an address and a choice; the last path of a branching step has no branch. */
export const wayKey = (step: string, branch: string | null): string =>
  branch === null ? step : `${step} ${branch}`

/** Kept in the address, so that a link and the way back show the same. */
export function useFilter(): [Filter, (filter: Filter) => void] {
  const [params, setParams] = useSearchParams()
  const chosen = (name: string, among: readonly number[], usual: number): number =>
    among.find((one) => String(one) === params.get(name)) ?? usual
  const date = (name: string): string => {
    const text = params.get(name) ?? ''
    return isCalendarDate(text) ? text : ''
  }
  const version = Number(params.get('version'))
  const filter: Filter = {
    days: chosen('days', SPANS, 90),
    since: date('since'),
    until: date('until'),
    windowDays: chosen('window', RESULT_WINDOWS, 30),
    version: Number.isInteger(version) && version > 0 ? version : null,
    way: params.get('way') ?? '',
    before: params.get('before') === 'true',
    show: SHOWN_MEASURES.find((one) => one === params.get('show')) ?? 'revenue',
    beside: params.get('beside') ?? '',
  }
  const set = ({
    days,
    since,
    until,
    windowDays,
    version: of,
    way,
    before,
    show,
    beside,
  }: Filter) =>
    setParams(
      {
        ...(since || until ? { since, until } : { days: String(days) }),
        window: String(windowDays),
        ...(of !== null && { version: String(of) }),
        ...(way && { way }),
        ...(before && { before: 'true' }),
        ...(show !== 'revenue' && { show }),
        ...(beside && { beside }),
      },
      { replace: true },
    )
  return [filter, set]
}

/** The filter as the server is asked by it. */
export function queryFor(
  filter: Filter,
  zone: string,
): Record<string, string | number | undefined> {
  const { days, since, until, windowDays, version, way, before } = filter
  const [wayStep, wayBranch] = way === '' ? [] : way.split(' ')
  const isOwn = since !== '' && until !== '' && since <= until
  return {
    ...(isOwn
      ? { from: startOfDate(since, zone), to: startOfDate(dayAfter(until), zone) }
      : { days }),
    windowDays,
    version: version ?? undefined,
    wayStep,
    wayBranch,
    before: before ? 'true' : undefined,
  }
}

const dayAfter = (date: string): string =>
  new Date(Date.parse(`${date}T00:00:00Z`) + DAY_MS).toISOString().slice(0, 10)
