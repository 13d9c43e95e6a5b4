import { X } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import type { PersonResponse } from '../../contract/people.ts'
import { Time } from '../ui/data/shop.tsx'
import { useAct } from './useAct.ts'

interface Props {
  person: PersonResponse
  mayEdit: boolean
}

const KINDS = [
  { did: 'list', title: 'Lists' },
  { did: 'tag', title: 'Tags' },
] as const

/** Their lists and tags, which can be changed here, the segments they are in, and what workflows noted. */
export function Marks({ person, mayEdit }: Props): ReactNode {
  const properties = Object.entries(person.properties)
  return (
    <section className="panel flex flex-col gap-3 p-3" aria-label="Lists, tags, segments">
      {KINDS.map(({ did, title }) => (
        <Names
          key={did}
          title={title}
          did={did}
          names={did === 'list' ? person.lists : person.tags}
          since={person.labelled}
          id={person.id}
          mayEdit={mayEdit}
        />
      ))}
      <div>
        <h2 className="field-label">Segments</h2>
        {person.segments.length === 0 && <p className="text-secondary">in none</p>}
        <ul>
          {person.segments.map(({ id, name }) => (
            <li key={id}>
              <Link className="hover:underline" to={`/people?segment=${id}`}>
                {name}
              </Link>
            </li>
          ))}
        </ul>
      </div>
      {properties.length > 0 && (
        <div>
          <h2 className="field-label">Noted by workflows</h2>
          <dl className="grid grid-cols-[auto_1fr] gap-x-3">
            {properties.map(([name, value]) => [
              <dt key={`${name} name`} className="text-secondary">
                {name}
              </dt>,
              <dd key={`${name} value`}>{value}</dd>,
            ])}
          </dl>
        </div>
      )}
    </section>
  )
}

interface NamesProps {
  title: string
  did: 'list' | 'tag'
  names: readonly string[]
  since: PersonResponse['labelled']
  id: string
  mayEdit: boolean
}

function Names({ title, did, names, since, id, mayEdit }: NamesProps): ReactNode {
  const [typed, setTyped] = useState('')
  const act = useAct(id)
  return (
    <div>
      <h2 className="field-label">{title}</h2>
      <ul className="flex flex-wrap gap-1">
        {names.map((name) => (
          <li key={name} className="inline-flex items-center gap-1 rounded-field border border-base-300 py-0.5 pl-2">
            {name}
            <Since since={since.find((one) => one.kind === did && one.name === name)} />
            {mayEdit ? (
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Take “${name}” off`}
                onClick={() => act.mutate({ did, name, change: 'remove' })}
              >
                <X size={12} aria-hidden="true" />
              </button>
            ) : (
              <span className="pr-1" />
            )}
          </li>
        ))}
        {names.length === 0 && <li className="text-secondary">none</li>}
      </ul>
      {mayEdit && (
        <form
          className="mt-1 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            act.mutate({ did, name: typed, change: 'add' }, { onSuccess: () => setTyped('') })
          }}
        >
          <input
            className="input input-xs min-w-0 flex-1"
            aria-label={did === 'list' ? 'Put on the list' : 'Give the tag'}
            placeholder={did === 'list' ? 'Put on the list …' : 'Give the tag …'}
            maxLength={60}
            value={typed}
            onChange={({ target }) => setTyped(target.value)}
          />
          <button type="submit" className="btn btn-xs" disabled={typed.trim() === ''}>
            Add
          </button>
        </form>
      )}
    </div>
  )
} // prettier-ignore

/** Since when, and by which workflow or person; nothing where only the shop told of it. */
function Since({ since }: { since: PersonResponse['labelled'][number] | undefined }): ReactNode {
  if (!since) return null
  return (
    <span className="text-xs text-secondary">
      since <Time at={since.at} /> by {since.by}
    </span>
  )
}
