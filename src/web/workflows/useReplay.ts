import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { replayResponse, type WorkflowNumbersResponse } from '../../contract/workflows.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { withLists } from '../../core/workflow/lists.ts'
import { isFork, isMessage, type Step } from '../../core/workflow/steps.ts'
import { sendJson } from '../ui/api.ts'
import { useSettled } from '../ui/useSettled.ts'

/** What is counted at every stop: what happened, or what would have. */
export type ShownNumbers = WorkflowNumbersResponse & { isReplay?: boolean }

/**
 * What a workflow would have done over the last 90 days, as it is edited; undefined while that is
 * worked out, null where it cannot be said. Not asked while `isAsked` is false.
 */
export function useReplay(
  definition: Definition,
  isAsked: boolean,
): ShownNumbers | null | undefined {
  const settled = useSettled(definition, definition)
  // Words decide nothing: while a message is written, nothing is counted anew.
  const asked = useMemo(
    () => JSON.stringify({ definition: { ...settled, steps: wordless(settled.steps) } }),
    [settled],
  )
  const { data } = useQuery({
    queryKey: ['replay', asked],
    // As long as a workflow: not to be taken apart at every letter.
    queryKeyHashFn: ([, body]) => `replay ${String(body)}`,
    queryFn: () =>
      sendJson('POST', '/api/workflows/replay', replayResponse, JSON.parse(asked) as object),
    enabled: isAsked && definition.trigger.kind !== 'hand',
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  })
  return useMemo(() => {
    if (definition.trigger.kind === 'hand') return null
    return data && { ...data.numbers, isReplay: true }
  }, [data, definition.trigger.kind])
}

function wordless(steps: readonly Step[]): Step[] {
  return steps.map((step) => {
    if (isFork(step)) return withLists(step, wordless)
    if (!isMessage(step)) return step
    if (step.kind === 'sms') return { ...step, name: '', body: '' }
    if (step.kind === 'note') return { ...step, name: '', subject: '', body: '' }
    // Neither does what stands in a message for some only.
    const { blocks: _blocks, tracking: _tracking, ...rest } = step
    return { ...rest, name: '', subject: '', previewText: '', body: '' }
  })
}
