import { useMemo, useState, type ReactNode } from 'react'
import type { ShopFacts } from '../../../core/events/facts.ts'
import { leastChanges, type Difference } from '../../../core/rehearsal/differ.ts'
import type { Rehearsed } from '../../../core/rehearsal/rehearse.ts'
import { stopsOf } from '../../../core/rehearsal/story.ts'
import { changed, type SubjectChange } from '../../../core/rehearsal/subjectChanges.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { isMessage } from '../../../core/workflow/steps.ts'
import { entryWords } from '../../../core/words/decisions.ts'
import { changeWords, differenceWords } from '../../../core/words/differWords.ts'
import { stepName } from '../../../core/words/steps.ts'
import { ChoiceField } from '../../ui/fields/fields.tsx'
import { useWords } from '../../ui/data/words.tsx'
import { useSlices } from './useSlices.ts'

interface Props {
  definition: Definition
  subject: Subject
  told: Rehearsed
  products: Subject['lines']
  shop: ShopFacts
  /** The message that is asked about; the first that is not sent where none is. */
  step: string | null
  onStep: (step: string) => void
  onTry: (subject: Subject) => void
}

/** Why they get a message or do not, and what would have to differ for it to turn. */
export function Why(props: Props): ReactNode {
  const { definition, told, step, onStep } = props
  const messages = allSteps(definition.steps).filter(isMessage)
  const stops = useMemo(() => stopsOf(definition, told), [definition, told])
  const first = messages.find(({ key }) => stops.get(key)?.kind !== 'sent') ?? messages[0]
  const asked = messages.find(({ key }) => key === step) ?? first
  if (!asked) return null
  const names = Object.fromEntries(messages.map(({ key }) => [key, stepName(definition, key)]))
  return (
    <section className="panel p-4" aria-label="Why, and what would have to differ">
      <h2 className="mb-2 text-base">Why they get it, or not</h2>
      <ChoiceField label="Message" value={asked.key} choices={names} onChange={onStep} />
      <Reason {...props} step={asked.key} />
      <Turning key={JSON.stringify([asked.key, definition, props.subject])} {...props} step={asked.key} />
    </section>
  )
} // prettier-ignore

/** What was decided of it; of what was not reached, what was decided last. */
function Reason({ definition, told, step }: Props & { step: string }): ReactNode {
  const words = useWords()
  const context = useMemo(() => ({ ...words, zone: told.zone }), [words, told.zone])
  const stop = stopsOf(definition, told).get(step)
  const last = told.entries.findLast(({ run }) => run === 0 || run === null)
  const decided = stop ?? last
  if (!decided) return <p className="mb-2">Nothing of what happens starts it.</p>
  return (
    <p className="mb-2">
      {!stop && 'Not reached. The last that was decided: '}
      {entryWords(decided.entry, definition, context)}.
    </p>
  )
}

function Turning(props: Props & { step: string }): ReactNode {
  const { definition, subject, onTry } = props
  const [found, setFound] = useState<Difference | 'looking' | null>(null)
  const goThrough = useSlices()
  if (found === null) {
    return (
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => {
          setFound('looking')
          goThrough(leastChanges(props), setFound)
        }}
      >
        What would have to differ?
      </button>
    )
  }
  if (found === 'looking') return <p className="text-secondary">Trying them otherwise …</p>
  const ways: SubjectChange[][] = found.alone.length > 0 ? found.alone.map((one) => [one]) : found.pairs // prettier-ignore
  return (
    <div role="status">
      <p>{differenceWords(found)}</p>
      <ul className="mt-1 flex flex-col gap-1">
        {ways.map((changes) => (
          <li key={JSON.stringify(changes)} className="flex items-baseline gap-2">
            <span>{changes.map((one) => changeWords(one, definition)).join(' and ')}</span>
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => onTry(changes.reduce(changed, subject))}
            >
              Try it
            </button>
          </li>
        ))}
      </ul>
    </div>
  )
}
