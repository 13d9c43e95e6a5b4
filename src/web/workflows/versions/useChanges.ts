import { useMemo } from 'react'
import { changesBetween, type Change } from '../../../core/words/changes.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { Selection } from '../selection.ts'
import { useWords } from '../useWords.ts'

/** What a draft changes of what is live; nothing where nothing is. */
export function useChanges(live: Definition | null, draft: Definition): Change[] {
  const words = useWords()
  return useMemo(() => (live ? changesBetween(live, draft, words) : []), [live, draft, words])
}

/** Looks up what has changed about a thing on the timetable. */
export type Marks = (target: Selection) => Change['kind'] | undefined

export function marksOf(changes: readonly Change[]): Marks {
  const kinds = new Map(changes.map(({ place, kind }) => [JSON.stringify(place), kind]))
  return (target) => kinds.get(JSON.stringify(target))
}
