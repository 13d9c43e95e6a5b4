import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { replayResponse } from '../../contract/workflows.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { stepKeys, withLists } from '../../core/workflow/lists.ts'
import { isFork, isMessage, type Step } from '../../core/workflow/steps.ts'
import { sendJson } from '../ui/api.ts'
import { useSettled } from '../ui/useSettled.ts'
import type { ShownNumbers } from './shownNumbers.ts'

interface Replayed {
  /** Undefined until there are some, null where none can be had. */
  numbers: ShownNumbers | null | undefined
  /** What is there is of the draft before the last edits. */
  isBehind: boolean
}

/**
 * What a workflow would have done over the last 90 days, as it is edited. Not asked while `isAsked` is
 * false.
 */
export function useReplay(definition: Definition, isAsked: boolean): Replayed {
  const settled = useSettled(definition, definition)
  // Words decide nothing: while a message is written, nothing is counted anew.
  const asked = useMemo(
    () => JSON.stringify({ definition: { ...settled, steps: wordless(settled.steps) } }),
    [settled],
  )
  const { data, isPlaceholderData } = useQuery({
    queryKey: ['replay', asked],
    // As long as a workflow: not to be taken apart at every letter.
    queryKeyHashFn: ([, body]) => `replay ${String(body)}`,
    queryFn: ({ signal }) => replayed(asked, signal),
    enabled: isAsked && definition.trigger.kind !== 'hand',
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  })
  const canReplay = definition.trigger.kind !== 'hand'
  return { numbers: canReplay ? data : null, isBehind: isPlaceholderData }
}

/** Asks for the numbers of a definition, given as what is sent. */
async function replayed(asked: string, signal: AbortSignal): Promise<ShownNumbers | null> {
  const body = JSON.parse(asked) as { definition: Definition }
  const past = await sendJson('POST', '/api/workflows/replay', replayResponse, body, signal)
  const counted = new Set(stepKeys(body.definition.steps))
  return past && { ...past.numbers, isReplay: true, counted }
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
