import { Plus, X } from 'lucide-react'
import type { ReactNode } from 'react'
import {
  HAPPENINGS,
  type Happening,
  type HappeningKind,
} from '../../../core/workflow/rehearsalSubject.ts'
import { HAPPENING_WORDS } from '../../../core/words/rehearsalWords.ts'
import { ChoiceField } from '../../ui/fields/fields.tsx'

interface Props {
  between: readonly Happening[]
  /** How long they are on their way, in minutes: so far a moment is dragged. */
  minutes: number
  onChange: (between: Happening[]) => void
}

/** In what the moment is said. */
const UNITS = { seconds: 1 / 60, minutes: 1, hours: 60, days: 1440 } as const
type Unit = keyof typeof UNITS
const UNIT_WORDS = { seconds: 'seconds', minutes: 'minutes', hours: 'hours', days: 'days' } as const

/** Those that are put in by one press. */
const AT_HAND: readonly HappeningKind[] = ['ordered', 'refunded', 'delivered', 'opened', 'clicked', 'review', 'saysNo', 'unsubscribed'] // prettier-ignore
const AFTER_A_DAY = 1440
const LONGEST = 3660 * AFTER_A_DAY

/** What happens to them on the way: put in, moved, taken out. */
export function Between({ between, minutes, onChange }: Props): ReactNode {
  const add = (what: HappeningKind) =>
    onChange([
      ...between,
      {
        key: freeKey(between),
        what,
        afterMinutes: (between.at(-1)?.afterMinutes ?? 0) + AFTER_A_DAY,
        ...(what === 'review' && { stars: 5 }),
      },
    ])
  const change = (key: string, to: Partial<Happening>) => onChange(between.map((one) => (one.key === key ? { ...one, ...to } : one))) // prettier-ignore
  return (
    <section className="panel p-4" aria-label="What happens in between">
      <h2 className="text-base">What happens in between</h2>
      {between.length === 0 && <p className="mb-2 text-secondary">Nothing else happens.</p>}
      <ol className="my-2 flex flex-col gap-2">
        {between.map((one) => (
          <Row
            key={one.key}
            happening={one}
            longest={Math.max(minutes, one.afterMinutes, AFTER_A_DAY)}
            onChange={(to) => change(one.key, to)}
            onRemove={() => onChange(between.filter(({ key }) => key !== one.key))}
          />
        ))}
      </ol>
      <div className="flex flex-wrap gap-2">
        {AT_HAND.map((what) => (
          <button key={what} type="button" className="btn btn-sm" onClick={() => add(what)}>
            <Plus size={12} aria-hidden="true" /> {HAPPENING_WORDS[what]}
          </button>
        ))}
      </div>
    </section>
  )
}

/** A key that none of the others has. */
function freeKey(between: readonly Happening[]): string {
  let number = between.length + 1
  while (between.some(({ key }) => key === `h${number}`)) number += 1
  return `h${number}`
}

interface RowProps {
  happening: Happening
  /** Where the time ends in which it is dragged, in minutes. */
  longest: number
  onChange: (to: Partial<Happening>) => void
  onRemove: () => void
}

function Row({ happening, longest, onChange, onRemove }: RowProps): ReactNode {
  const { what, afterMinutes, stars } = happening
  const unit = unitOf(afterMinutes)
  const words = HAPPENING_WORDS[what]
  return (
    <li className="flex flex-wrap items-center gap-2 border-b border-base-300/60 pb-2">
      <span>after</span>
      <input
        type="number"
        aria-label={`How long after the beginning: ${words}`}
        min={0}
        className="input input-sm w-20 font-mono"
        value={Math.round(afterMinutes / UNITS[unit])}
        onChange={(event) => {
          const minutes = event.target.valueAsNumber * UNITS[unit]
          if (minutes >= 0 && minutes <= LONGEST) onChange({ afterMinutes: minutes })
        }}
      />
      <span className="w-28">
        <ChoiceField<Unit>
          label={`In what: ${words}`}
          hideLabel
          value={unit}
          choices={UNIT_WORDS}
          onChange={(to) => onChange({ afterMinutes: Math.max(1, Math.round(afterMinutes / UNITS[unit])) * UNITS[to] })} // prettier-ignore
        />
      </span>
      <button
        type="button"
        className="btn btn-ghost btn-square btn-sm ml-auto"
        aria-label={`Take out: ${words}`}
        onClick={onRemove}
      >
        <X size={14} aria-hidden="true" />
      </button>
      <span className="w-52">
        <ChoiceField<HappeningKind>
          label={`What happens: ${words}`}
          hideLabel
          value={what}
          choices={CHOICES}
          onChange={(to) => onChange({ what: to, stars: to === 'review' ? 5 : undefined })}
        />
      </span>
      {what === 'review' && (
        <span className="w-28">
          <ChoiceField
            label="Stars given"
            hideLabel
            value={String(stars ?? 5)}
            choices={STARS}
            onChange={(to) => onChange({ stars: Number(to) })}
          />
        </span>
      )}
      <input
        type="range"
        aria-label={`When on their way: ${words}`}
        className="h-6 min-w-32 flex-1 accent-primary"
        min={0}
        max={longest}
        step={stepFor(longest)}
        value={afterMinutes}
        onChange={(event) => onChange({ afterMinutes: event.target.valueAsNumber })}
      />
    </li>
  )
}

const CHOICES = Object.fromEntries(HAPPENINGS.map((what) => [what, HAPPENING_WORDS[what]])) as Record<HappeningKind, string> // prettier-ignore
const STARS = { 1: '1 star', 2: '2 stars', 3: '3 stars', 4: '4 stars', 5: '5 stars' } as const

/** Fine enough to be put before or after any wait, coarse enough to be said in round numbers. */
const stepFor = (longest: number): number => (longest <= 3 * AFTER_A_DAY ? 1 : 60)

/** The largest unit that says it in whole numbers. */
const unitOf = (minutes: number): Unit =>
  !Number.isInteger(minutes)
    ? 'seconds'
    : minutes > 0 && minutes % 1440 === 0
      ? 'days'
      : minutes > 0 && minutes % 60 === 0
        ? 'hours'
        : 'minutes'
