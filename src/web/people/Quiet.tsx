import { BellOff } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import type { PersonResponse } from '../../contract/people.ts'
import { isQuiet } from '../../core/people/act.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { dateIn, startOfDate } from '../../core/shared/localTime.ts'
import { Time, useShop } from '../ui/data/shop.tsx'
import { useToday } from '../ui/data/useToday.ts'
import { useAct } from './useAct.ts'

/** No marketing from any workflow for a while: while they talk to support, or have asked for it. */
export function Quiet({ person, mayEdit }: { person: PersonResponse; mayEdit: boolean }): ReactNode {
  const { zone } = useShop()
  const today = useToday()
  const [day, setDay] = useState<string | null>(null)
  const act = useAct(person.id, () => setDay(null))
  const now = startOfDate(today(), zone)
  const { quietUntil } = person
  const isOn = isQuiet(quietUntil, now)
  if (!mayEdit && !isOn) return null
  return (
    <section className="panel p-3" aria-label="Quiet">
      <h2 className="flex items-center gap-2 text-base">
        <BellOff size={15} aria-hidden="true" /> Quiet
      </h2>
      {isOn && quietUntil !== null ? (
        <p className="mt-1">
          No marketing until <Time at={quietUntil} full />. What belongs to an order is sent all the same.{' '}
          {mayEdit && (
            <button type="button" className="btn btn-xs" onClick={() => act.mutate({ did: 'quiet', until: null })}>
              End it now
            </button>
          )}
        </p>
      ) : day === null ? (
        <p className="mt-1 flex items-center gap-2">
          <span className="text-secondary">They get marketing as usual.</span>
          <button
            type="button"
            className="btn btn-xs"
            onClick={() => setDay(dateIn(now + 14 * DAY_MS, zone))}
          >
            No marketing until …
          </button>
        </p>
      ) : (
        <form
          className="mt-2 flex items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            act.mutate({ did: 'quiet', until: startOfDate(day, zone) })
          }}
        >
          <input
            type="date"
            aria-label="Until the beginning of"
            className="input input-sm font-mono"
            min={dateIn(now + DAY_MS, zone)}
            max="9999-12-31"
            required
            value={day}
            onChange={({ target }) => setDay(target.value)}
          />
          <button type="submit" className="btn btn-primary btn-sm">
            Be quiet
          </button>
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => setDay(null)}>
            Leave it
          </button>
        </form>
      )}
    </section>
  )
} // prettier-ignore
