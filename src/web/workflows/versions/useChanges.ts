import { useMemo } from 'react'
import { changesBetween, type Change } from '../../../core/words/changes.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { useSettled } from '../../ui/hooks/useSettled.ts'
import type { Selection } from '../selection.ts'
import { useWords } from '../../ui/data/words.tsx'

/** What a draft changes of what is live, once it stands still; nothing where nothing is. */
export function useChanges(live: Definition | null, draft: Definition): Change[] {
  const words = useWords()
  const settled = useSettled(draft, draft)
  return useMemo(() => (live ? changesBetween(live, settled, words) : []), [live, settled, words])
}

/** Looks up what has changed about a thing on the timetable. */
export type Marks = (target: Selection) => Change['kind'] | undefined

/** The marks of changes: the same function for as long as it would mark the same. */
export function useMarks(changes: readonly Change[]): Marks {
  const text = useMemo(
    () => JSON.stringify(changes.map(({ place, kind }) => [JSON.stringify(place), kind])),
    [changes],
  )
  return useMemo(() => {
    const kinds = new Map(JSON.parse(text) as [string, Change['kind']][])
    return (target) => (kinds.size > 0 ? kinds.get(JSON.stringify(target)) : undefined)
  }, [text])
}
