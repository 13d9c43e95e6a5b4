import { useState, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { PersonResponse } from '../../contract/people.ts'
import { mayOwn } from '../../contract/roles.ts'
import { useSession } from '../ui/data/shop.tsx'
import { send } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'
import { calledBy } from './PeopleTable.tsx'

/** All that is known of somebody, to hand to them; and their erasure. */
export function TheirRight({ person }: { person: PersonResponse }): ReactNode {
  const mayErase = mayOwn(useSession().user.role)
  const [isErasing, setErasing] = useState(false)
  const data = `/api/people/${encodeURIComponent(person.id)}/data`
  return (
    <section className="panel p-3" aria-label="Their data">
      <h2 className="text-base">Their data</h2>
      <p className="mt-1 text-secondary">Everything that is known of them, to hand to them.</p>
      <p className="mt-2 flex flex-wrap gap-2">
        <a className="btn btn-sm" href={`${data}-page`} target="_blank" rel="noreferrer">
          As a page
        </a>
        <a className="btn btn-sm" href={data} download>
          As JSON
        </a>
        {!isErasing && mayErase && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => setErasing(true)}>
            Erase them …
          </button>
        )}
      </p>
      {isErasing && <Erase person={person} onLeave={() => setErasing(false)} />}
    </section>
  )
}

function Erase({ person, onLeave }: { person: PersonResponse; onLeave: () => void }): ReactNode {
  const navigate = useNavigate()
  const [typed, setTyped] = useState('')
  const erase = useChange(
    () => send('POST', `/api/people/${encodeURIComponent(person.id)}/erase`, { id: person.id }),
    'people',
    () => {
      toast.success('What identified them is gone.')
      void navigate('/people')
    },
  )
  return (
    <form
      className="mt-3 border-t border-base-300/60 pt-3"
      onSubmit={(event) => {
        event.preventDefault()
        erase.mutate()
      }}
    >
      <p>
        What identifies {calledBy(person)} is removed everywhere: name, addresses, messages, what they wrote. Orders and
        messages are counted as before, of nobody. What arrives late does not bring them back. This cannot be undone.
      </p>
      <label className="mt-2 block">
        <span className="field-label">
          To erase them, type their id: <code className="font-mono">{person.id}</code>
        </span>
        <input className="input input-sm w-full font-mono" value={typed} onChange={({ target }) => setTyped(target.value)} />
      </label>
      <p className="mt-2 flex gap-2">
        <button type="submit" className="btn btn-primary btn-sm" disabled={typed !== person.id || erase.isPending}>
          Erase them
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onLeave}>
          Leave it
        </button>
      </p>
    </form>
  )
} // prettier-ignore
