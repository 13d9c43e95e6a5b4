import { useMemo, type ReactNode } from 'react'
import { messagesOf } from '../../../core/rehearsal/story.ts'
import type { Rehearsed } from '../../../core/rehearsal/rehearse.ts'
import { entryWords } from '../../../core/words/decisions.ts'
import { plural } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { useWords } from '../../ui/data/words.tsx'
import { shortMoment } from './lit.ts'

interface Props {
  definition: Definition
  told: Rehearsed
}

/** All that was decided, in the ledger's words, at their own local times. */
export function Story({ definition, told }: Props): ReactNode {
  const words = useWords()
  const context = useMemo(() => ({ ...words, zone: told.zone }), [words, told.zone])
  const { entries, runs, zone } = told
  return (
    <section className="panel p-4" aria-label="What came of it" aria-live="polite">
      <h2 className="text-base">What came of it</h2>
      <p className="mb-2 text-secondary">{sumWords(told)}</p>
      <ol className="flex flex-col gap-2 text-xs">
        {entries.map(({ at, run, entry }, index) => (
          <li key={index}>
            <span className="font-mono text-secondary">{shortMoment(at, zone)}</span>
            {runs > 1 && run !== null && <span className="text-secondary"> · time {run + 1}</span>}
            <span className={`block ${entry.kind === 'sends' ? 'font-medium' : ''}`}>
              {entryWords(entry, definition, context)}
            </span>
          </li>
        ))}
      </ol>
    </section>
  )
}

/** "3 messages; local times are those of Asia/Kathmandu." */
function sumWords(told: Rehearsed): string {
  if (told.entries.length === 0) return 'Nothing: nothing of what happens starts it.'
  if (told.runs === 0) return 'They do not come in.'
  const times = told.runs > 1 ? `They come in ${told.runs} times, ` : ''
  return `${times}${plural(messagesOf(told).length, 'message')}; local times are those of ${told.zone}.`
}
