import { useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { mayBuild } from '../../contract/roles.ts'
import { labelAnswer, type PeopleCount } from '../../contract/people.ts'
import { peopleWords } from '../../core/words/quantities.ts'
import { sendJson } from '../ui/data/api.ts'
import { useSession } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import type { Which } from './usePeople.ts'

const CHANGES = {
  'list add': 'Put on a list',
  'list remove': 'Take off a list',
  'tag add': 'Give a tag',
  'tag remove': 'Take a tag off',
} as const
type Change = keyof typeof CHANGES

/** Puts all who were found on a list or gives them a tag, or takes them off again. */
export function LabelMany({ which, count }: { which: Which; count: PeopleCount }): ReactNode {
  const queries = useQueryClient()
  const mayEdit = mayBuild(useSession().user.role)
  const [change, setChange] = useState<Change | null>(null)
  const [name, setName] = useState('')
  const label = useChange((body: object) => sendJson('POST', '/api/labels', labelAnswer, body), 'people') // prettier-ignore
  if (!mayEdit) return null
  const [kind, did] = change?.split(' ') ?? []
  const submit = () =>
    label.mutate(
      { kind, name, change: did, people: which },
      {
        onSuccess: ({ changed }) => {
          toast.success(`Done for ${peopleWords(changed)}. It stands in the ledger.`)
          setChange(null)
          setName('')
          void queries.invalidateQueries({ queryKey: ['people'] })
        },
      },
    )
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        submit()
      }}
    >
      <select
        className="select select-sm w-44"
        aria-label="Do with all of them"
        value={change ?? ''}
        onChange={({ target }) => setChange(target.value === '' ? null : (target.value as Change))}
      >
        <option value="">All of them: …</option>
        {Object.entries(CHANGES).map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
      {change && (
        <>
          <input
            className="input input-sm w-36"
            aria-label={kind === 'list' ? 'Which list' : 'Which tag'}
            placeholder={kind === 'list' ? 'Which list' : 'Which tag'}
            maxLength={60}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
          <button type="submit" className="btn btn-primary btn-sm" disabled={name.trim() === '' || label.isPending}>
            {`For ${count.looked === count.of ? peopleWords(count.held) : 'all of them'}`}
          </button>
        </>
      )}
    </form>
  )
} // prettier-ignore
