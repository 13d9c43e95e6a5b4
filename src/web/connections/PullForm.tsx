import { useState, type ReactNode } from 'react'
import type { ConnectionDetail } from '../../contract/connections.ts'
import { pullRule } from '../../core/connections/pull.ts'
import { plural } from '../../core/words/quantities.ts'
import { send } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'
import { Time } from '../ui/data/shop.tsx'
import { ChoiceField, TextField } from '../ui/fields/fields.tsx'

const EVERY: Readonly<Record<string, string>> = { 1: 'every minute', 5: 'every 5 minutes', 15: 'every 15 minutes', 60: 'every hour', 360: 'every 6 hours', 1440: 'once a day' } // prettier-ignore

/** How a connection fetches what nobody sends to it: from where, how often, and how a page names the next. */
export function PullForm({ detail: { id, pull, pulled } }: { detail: ConnectionDetail }): ReactNode {
  const [url, setUrl] = useState(pull?.url ?? '')
  const [every, setEvery] = useState(nearest(pull?.everyMinutes ?? 15))
  const [next, setNext] = useState(pull?.next ?? '')
  const [secret, setSecret] = useState('')
  const set = useChange((to: object) => send('PUT', `/api/connections/${id}`, to), 'connection', () => setSecret('')) // prettier-ignore
  const rule = { url: url.trim(), everyMinutes: Number(every), next, ...(secret !== '' && { authorization: secret }) } // prettier-ignore
  const isRight = pullRule.partial({ authorization: true }).safeParse(rule).success
  return (
    <section className="panel mt-4 p-3" aria-label="Fetching">
      <h2 className="text-base">What is fetched</h2>
      <p className="text-secondary">For systems that send nothing by themselves: pages of JSON, each mapped like a body that came.</p>
      {pull && (
        <p role="status" className="mt-1">
          {pulled === null ? 'It has not been fetched yet.' : <Pulled {...pulled} />}
        </p>
      )}
      <form
        className="mt-2 grid items-end gap-x-4 sm:grid-cols-2"
        onSubmit={(event) => {
          event.preventDefault()
          set.mutate({ pull: rule })
        }}
      >
        <TextField label="Address" placeholder="https://" value={url} onChange={setUrl} />
        <ChoiceField label="How often" value={every} choices={EVERY} onChange={setEvery} />
        <TextField
          label="The next page, as JSONata (empty: there is only one)"
          placeholder={'next   or   "?after=" & cursor'}
          value={next}
          onChange={setNext}
        />
        <TextField
          label={pull?.isAuthorized ? 'Authorization (empty: as it is)' : 'Authorization, if it asks for one'}
          placeholder="Bearer …"
          value={secret}
          onChange={setSecret}
        />
        <p className="mb-3 flex gap-2">
          <button type="submit" className="btn btn-sm" disabled={!isRight || set.isPending}>
            {pull ? 'Save' : 'Fetch it from now on'}
          </button>
          {pull && (
            <>
              <button type="button" className="btn btn-sm" onClick={() => set.mutate({ fetchNow: true })}>
                Fetch now
              </button>
              <button type="button" className="btn btn-ghost btn-sm" onClick={() => set.mutate({ pull: null })}>
                Fetch no more
              </button>
            </>
          )}
        </p>
      </form>
    </section>
  )
} // prettier-ignore

function Pulled({
  at,
  problem,
  pages,
  fresh,
  refused,
}: NonNullable<ConnectionDetail['pulled']>): ReactNode {
  return (
    <>
      Last fetched <Time at={at} />:{' '}
      {problem ? (
        <span className="text-accent">{problem}.</span>
      ) : pages === 0 ? (
        'nothing has changed since.'
      ) : (
        `${plural(pages, 'page')}, ${plural(fresh, 'new event')}${refused === 0 ? '' : `; ${plural(refused, 'page')} refused, which stand above with why`}.`
      )}
    </>
  )
}

/** The choice that is closest to so many minutes. */
function nearest(minutes: number): string {
  const choices = Object.keys(EVERY).map(Number)
  const [found = 15] = choices.toSorted((a, b) => Math.abs(a - minutes) - Math.abs(b - minutes))
  return String(found)
}
