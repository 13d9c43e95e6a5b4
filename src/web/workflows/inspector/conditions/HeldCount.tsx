import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { countResponse } from '../../../../contract/counts.ts'
import { isCountable } from '../../../../core/conditions/countable.ts'
import type { Condition } from '../../../../core/conditions/condition.ts'
import { isPerLine, subjectOf, type Trigger } from '../../../../core/workflow/trigger.ts'
import { sendJson } from '../../../ui/api.ts'
import { useSettled } from '../../../ui/useSettled.ts'

interface Props {
  /** What starts the workflow, with the filter that says who is counted. */
  trigger: Trigger
  /** The condition; of a split, with those of the paths above it. */
  condition: Condition
  above?: readonly Condition[]
  /** How long after the start it is asked, in milliseconds; null where nobody can say. */
  afterMs?: number | null
  /** When that is, for the sentence: "By the last message it would have held". */
  said?: string
}

/** For how many subjects of the last 90 days a condition holds, as it is edited. */
export function HeldCount(props: Props): ReactNode {
  const { trigger, condition, above = [], afterMs = 0, said = 'Holds' } = props
  const conditions = [...above, condition]
  const body = JSON.stringify({ trigger, conditions, afterMs })
  const asked = useSettled(body, body)
  const when = afterMs === 0 ? 'atOnce' : 'later'
  const canCount =
    afterMs !== null &&
    trigger.kind === 'event' &&
    conditions.every((one) => isCountable(one, when))
  const count = useQuery({
    queryKey: ['held', asked],
    queryFn: () =>
      sendJson('POST', '/api/conditions/count', countResponse, JSON.parse(asked) as object),
    enabled: canCount,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  })
  if (!canCount || !count.data) return null
  const { of, held, first } = count.data
  const own = held.at(-1) ?? 0
  const taken = first.at(-1) ?? 0
  const share = of === 0 ? 0 : Math.round((own / of) * 100)
  return (
    <p
      className={`mt-2 text-xs text-secondary ${count.isPlaceholderData ? 'opacity-60' : ''}`}
      role="status"
    >
      {said} for <span className="font-mono">{own.toLocaleString()}</span> of{' '}
      <span className="font-mono">{of.toLocaleString()}</span> {nounOf(trigger)} of the last 90 days
      ({share} %)
      {above.length > 0 && taken < own && (
        <>
          ; <span className="font-mono">{(own - taken).toLocaleString()}</span> of them take a path
          above
        </>
      )}
      .
    </p>
  )
}

function nounOf(trigger: Trigger): string {
  if (isPerLine(trigger)) return 'lines of orders'
  const subject = subjectOf(trigger)
  return subject === 'customer' ? 'events' : `${subject}s`
}
