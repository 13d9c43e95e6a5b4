import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { replayResponse } from '../../../contract/workflows.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { withLists } from '../../../core/workflow/lists.ts'
import {
  isBranching,
  isMessage,
  type MessageStep,
  type Step,
} from '../../../core/workflow/steps.ts'
import { sendJson } from '../../ui/data/api.ts'
import { useSettled } from '../../ui/hooks/useSettled.ts'
import type { ShownNumbers } from './shownNumbers.ts'

/**
 * What a workflow would have done over the last 90 days, as it is edited. Not asked while `isAsked` is
 * false. Undefined until it is counted, and again once the workflow has changed: an old number does
 * not stand beside what it is not of. Null where none can be had.
 */
export function useReplay(
  definition: Definition,
  isAsked: boolean,
): ShownNumbers | null | undefined {
  // Words decide nothing: while a message is written, nothing is counted anew.
  const body = useMemo(
    () => JSON.stringify({ definition: { ...definition, steps: wordless(definition.steps) } }),
    [definition],
  )
  const asked = useSettled(body, body)
  const { data } = useQuery({
    queryKey: ['replay', asked],
    // As long as a workflow: not to be taken apart at every letter.
    queryKeyHashFn: ([, sent]) => `replay ${String(sent)}`,
    queryFn: ({ signal }) => replayed(asked, signal),
    enabled: isAsked && definition.trigger.kind !== 'hand',
    staleTime: 60_000,
    retry: false,
  })
  if (definition.trigger.kind === 'hand') return null
  return asked === body ? data : undefined
}

/** Asks for the numbers of a definition, given as what is sent. */
async function replayed(asked: string, signal: AbortSignal): Promise<ShownNumbers | null> {
  const body = JSON.parse(asked) as { definition: Definition }
  const past = await sendJson('POST', '/api/workflows/replay', replayResponse, body, signal)
  return past && { ...past.numbers, isReplay: true, oneIn: past.oneIn }
}

function wordless(steps: readonly Step[]): Step[] {
  return steps.map((step) => {
    if (isBranching(step)) return withLists(step, wordless)
    if (!isMessage(step)) return step
    return { ...wordlessMessage(step), name: '', body: '' }
  })
}

function wordlessMessage(message: MessageStep): MessageStep {
  switch (message.kind) {
    case 'sms':
      return message
    case 'note':
      return { ...message, subject: '' }
    case 'email': {
      // Neither does what stands in a message for some only.
      const { blocks: _blocks, tracking: _tracking, ...rest } = message
      return { ...rest, subject: '', previewText: '' }
    }
  }
}
