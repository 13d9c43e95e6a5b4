import { useMemo, useState, type ReactNode } from 'react'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { NumbersSwitch, type Counting } from '../timetable/NumbersSwitch.tsx'
import { useNumbers } from '../page/useWorkflow.ts'
import { countedIn, type ShownNumbers } from './shownNumbers.ts'
import { useReplay } from './useReplay.ts'

/** The numbers at every stop, and the switch that says what they are of. */
export function useShownNumbers(
  { id, live: liveDefinition, liveVersion }: WorkflowResponse,
  definition: Definition,
): { numbers: ShownNumbers | undefined; corner: ReactNode } {
  const { data } = useNumbers(id)
  const live = useMemo(
    () => data && liveDefinition && { ...data, counted: countedIn(liveDefinition, definition) },
    [data, liveDefinition, definition],
  )
  const wasLive = liveVersion !== null
  const [chosen, setChosen] = useState<Counting>('live')
  const counting = wasLive ? chosen : 'past'
  const past = useReplay(definition, counting === 'past')
  const canReplay = definition.trigger.kind !== 'hand'
  const state = past === undefined ? 'counting' : past === null ? 'unfinished' : 'counted'
  const oneIn = past?.oneIn ?? 1
  const corner = useMemo(
    () =>
      canReplay ? (
        <NumbersSwitch
          counting={counting}
          onCount={wasLive ? setChosen : undefined}
          past={state}
          oneIn={oneIn}
        />
      ) : (
        'who'
      ),
    [canReplay, counting, wasLive, state, oneIn],
  )
  const isPast = counting === 'past' && canReplay
  return {
    numbers: isPast ? (past ?? undefined) : wasLive ? (live ?? undefined) : undefined,
    corner,
  }
}
