import { useMemo, useState, type ReactNode } from 'react'
import { nobodyReaches } from '../../../core/check/nobodyReaches.ts'
import type { ShopFacts } from '../../../core/events/facts.ts'
import {
  checkExamples,
  coverage,
  exampleOf,
  outcomeOf,
  type CheckedExample,
  type Reachable,
} from '../../../core/rehearsal/examples.ts'
import { freeKey } from '../../../core/rehearsal/exampleSet.ts'
import type { Rehearsed } from '../../../core/rehearsal/rehearse.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { MOST_EXAMPLES, type Example } from '../../../core/workflow/example.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { differenceWords, reachableWords, wayWords } from '../../../core/words/exampleWords.ts'
import { plural } from '../../../core/words/quantities.ts'
import { useProducts } from '../../ui/data/useProducts.ts'
import { useWords } from '../../ui/data/words.tsx'
import { DownloadDocument } from './DownloadDocument.tsx'
import { lineOf } from './firstSubject.ts'
import { useWitness } from './useWitness.ts'

interface Props {
  definition: Definition
  shop: ShopFacts
  /** What is on the screen, and what came of it. */
  subject: Subject
  told: Rehearsed
  onOpen: (subject: Subject) => void
  onEdit: (make: (before: Definition) => Definition) => void
}

/** Rehearsals kept with the workflow: each is gone through again, and what comes out otherwise is answered here. */
export function Examples({ definition, shop, subject, told, onOpen, onEdit }: Props): ReactNode {
  const checked = useMemo(() => checkExamples(definition, shop), [definition, shop])
  const setExamples = (make: (before: Example[]) => Example[]) =>
    onEdit((before) => ({ ...before, examples: make(before.examples ?? []) }))
  const remove = (key: string) => setExamples((all) => all.filter((one) => one.key !== key))
  const accept = ({ example, outcome }: CheckedExample) =>
    setExamples((all) => all.map((one) => (one.key === example.key ? { ...one, outcome } : one)))
  const keep = (name: string) =>
    setExamples((all) => [...all, exampleOf(freeKey(all), name, { subject, definition, told })])
  return (
    <section className="panel flex flex-col gap-3 p-4" aria-label="Examples">
      <div className="flex items-center justify-between">
        <h2 className="text-base">Examples</h2>
        <DownloadDocument definition={definition} />
      </div>
      {checked.length === 0 && (
        <p className="text-secondary">
          None yet. One that is kept is gone through again at each change, and stops going live
          where it comes out otherwise.
        </p>
      )}
      <ul className="flex flex-col gap-3">
        {checked.map((one) => (
          <Row
            key={one.example.key}
            checked={one}
            definition={definition}
            onLook={() => onOpen(one.example.subject)}
            onAccept={() => accept(one)}
            onRemove={() => remove(one.example.key)}
          />
        ))}
      </ul>
      <Missing
        definition={definition}
        checked={checked}
        shop={shop}
        subject={subject}
        onFound={onOpen}
      />
      {checked.length < MOST_EXAMPLES && (
        <Keep proposed={nameFor(definition, told)} onKeep={keep} />
      )}
    </section>
  )
}

/** "Hives and wear: 2 messages, left", to begin with. */
function nameFor(definition: Definition, told: Rehearsed): string {
  if (told.runs === 0) return 'Does not come in'
  const { messages, exclusions, ways } = outcomeOf(told)
  const last = ways.at(-1)
  const path = last ? `${wayWords(definition, last.step, last.branch)}: ` : ''
  return `${path}${plural(messages.length, 'message')}${exclusions.length > 0 ? ', held back or left' : ''}`.slice(
    0,
    LONGEST_NAME,
  )
}

const LONGEST_NAME = 120

interface RowProps {
  checked: CheckedExample
  definition: Definition
  onLook: () => void
  onAccept: () => void
  onRemove: () => void
}

function Row({ checked, definition, onLook, onAccept, onRemove }: RowProps): ReactNode {
  const { example, outcome, zone, differences } = checked
  const differs = differences.length > 0
  return (
    <li className={differs ? 'rounded border border-accent p-2' : ''}>
      <p className="flex items-baseline gap-2">
        <span aria-hidden="true" className={differs ? 'text-accent' : 'text-primary'}>
          {differs ? '≠' : '✓'}
        </span>
        <span className="grow font-medium">{example.name}</span>
      </p>
      <p className={`pl-5 text-xs ${differs ? 'text-accent' : 'text-secondary'}`}>
        {differs
          ? differences.map((one) => differenceWords(one, definition, zone)).join(', ')
          : `as kept: ${plural(outcome.messages.length, 'message')}`}
      </p>
      <p className="flex gap-2 pl-5">
        <button
          type="button"
          className="btn btn-xs"
          onClick={onLook}
          aria-label={`Look at ${example.name}`}
        >
          Look
        </button>
        {differs && (
          <button
            type="button"
            className="btn btn-xs"
            onClick={onAccept}
            aria-label={`Meant so: ${example.name}`}
          >
            Meant so
          </button>
        )}
        <button
          type="button"
          className="btn btn-xs"
          onClick={onRemove}
          aria-label={`Remove ${example.name}`}
        >
          Remove
        </button>
      </p>
    </li>
  )
}

interface MissingProps {
  definition: Definition
  checked: readonly CheckedExample[]
  shop: ShopFacts
  subject: Subject
  onFound: (subject: Subject) => void
}

/** Of what nobody at all can reach, why; by its JSON. */
function provedOf(definition: Definition, missing: readonly Reachable[]): Map<string, string> {
  return new Map(
    missing.flatMap((target) => {
      const why = nobodyReaches(definition, target)
      return why === null ? [] : [[JSON.stringify(target), why] as const]
    }),
  )
}

/** What no example reaches, each with somebody looked for who does. */
function Missing({ definition, checked, shop, subject, onFound }: MissingProps): ReactNode {
  const words = useWords()
  const products = useProducts()
  const { looking, look } = useWitness(onFound)
  const { all, missing } = useMemo(() => coverage(definition, checked), [definition, checked])
  const nobody = useMemo(() => provedOf(definition, missing), [definition, missing])
  if (all === 0) return null
  const search = (target: Reachable) => {
    const own = products.filter(({ currency }) => currency === shop.currency)
    look({
      definition,
      target,
      shop,
      start: { ...subject, between: [] },
      products: own.map((one) => lineOf(one)),
    })
  }
  return (
    <div className="text-xs">
      <p className="text-secondary">
        {all - missing.length} of {plural(all, 'way')} covered
        {missing.length > 0 && '; nobody takes'}
      </p>
      <ul className="flex flex-col gap-1">
        {missing.map((target) => {
          const key = JSON.stringify(target)
          const said = reachableWords(target, definition, words)
          return (
            <li key={key} className="flex items-baseline justify-between gap-2">
              <span>{said}</span>
              {looking.for === key ? (
                <span role="status" className="whitespace-nowrap text-secondary">
                  looking …
                </span>
              ) : nobody.has(key) ? (
                <span className="text-right text-secondary">{nobody.get(key)}</span>
              ) : looking.inVain.has(key) ? (
                <span
                  className="text-right text-secondary"
                  title="Thousands were tried, and the check’s reasoning knows of nothing against it."
                >
                  nobody found
                </span>
              ) : (
                <button
                  type="button"
                  className="btn btn-xs whitespace-nowrap"
                  aria-label={`Make one: ${said}`}
                  onClick={() => search(target)}
                >
                  Make one
                </button>
              )}
            </li>
          )
        })}
      </ul>
    </div>
  )
}

interface KeepProps {
  proposed: string
  onKeep: (name: string) => void
}

function Keep({ proposed, onKeep }: KeepProps): ReactNode {
  const [typed, setTyped] = useState('')
  return (
    <form
      className="flex gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        onKeep(typed.trim() || proposed)
        setTyped('')
      }}
    >
      <input
        className="input input-sm grow"
        aria-label="Keep this one as"
        placeholder={proposed}
        maxLength={LONGEST_NAME}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <button type="submit" className="btn btn-primary btn-sm">
        Keep
      </button>
    </form>
  )
}
