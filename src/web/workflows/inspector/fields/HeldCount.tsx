import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { countResponse, type CountOfHeld } from '../../../../contract/counts.ts'
import { isCountable } from '../../../../core/conditions/countable.ts'
import type { Condition } from '../../../../core/conditions/condition.ts'
import { momentOf } from '../../../../core/timetable/momentOf.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { isPerLine, subjectOf, type Trigger } from '../../../../core/workflow/trigger.ts'
import { sendJson } from '../../../ui/data/api.ts'
import { useSettled } from '../../../ui/hooks/useSettled.ts'

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
  const canCount = isAsked(trigger, conditions, afterMs)
  const count = useQuery({
    queryKey: ['held', asked],
    queryFn: ({ signal }) =>
      sendJson('POST', '/api/conditions/count', countResponse, JSON.parse(asked) as object, signal),
    enabled: canCount,
    staleTime: 60_000,
    retry: false,
  })
  if (!canCount || count.data === null) return null
  // A number stands beside the very condition it was counted for, or not at all.
  const isCounted = count.data !== undefined && asked === body
  if (!isCounted && count.isError) return null
  return (
    <p className="mt-2 text-xs text-secondary" role="status">
      {isCounted ? (
        <>
          {said} for <Counted count={count.data} noun={nounOf(trigger)} />.
        </>
      ) : (
        'Counting…'
      )}
    </p>
  )
}

/** True when the past can tell. */
function isAsked(
  trigger: Trigger,
  conditions: readonly Condition[],
  afterMs: number | null,
): boolean {
  const when = afterMs === 0 ? 'atOnce' : 'later'
  if (afterMs === null || trigger.kind === 'hand') return false
  return conditions.every((one) => isCountable(one, when))
}

function Counted({ count, noun }: { count: CountOfHeld; noun: string }): ReactNode {
  const { of, held, first } = count
  const own = held.at(-1) ?? 0
  const above = own - (first.at(-1) ?? 0)
  const share = of === 0 ? 0 : Math.round((own / of) * 100)
  return (
    <>
      <span className="font-mono">{own.toLocaleString()}</span> of{' '}
      <span className="font-mono">{of.toLocaleString()}</span> {noun} of the last 90 days (
      {`${share}\u00A0%`})
      {above > 0 && (
        <>
          ; <span className="font-mono">{above.toLocaleString()}</span> of them take a path above
        </>
      )}
    </>
  )
}

interface AtStepProps extends Pick<Props, 'condition' | 'above'> {
  definition: Definition
  step: string
}

/** The same for a condition at a step, asked of each when they would have got there. */
export function HeldAtStep({ definition, step, ...asked }: AtStepProps): ReactNode {
  const afterMs = momentOf(definition, step)
  const said = afterMs === 0 ? 'Holds' : 'At its moment it would have held'
  return <HeldCount trigger={definition.trigger} afterMs={afterMs} said={said} {...asked} />
}

function nounOf(trigger: Trigger): string {
  if (isPerLine(trigger)) return trigger.kind === 'date' ? 'booked dates' : 'lines of orders'
  const subject = subjectOf(trigger)
  if (subject !== 'customer') return `${subject}s`
  return trigger.kind === 'date' ? 'dates' : 'events'
}
