import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { useAddressBook } from '../../../ui/data/useAddressBook.ts'

interface Props {
  legend: string
  groups: readonly string[] | undefined
  onChange: (groups: string[] | undefined) => void
}

/** Which groups of the shop's staff something goes to. */
export function GroupsField({ legend, groups = [], onChange }: Props): ReactNode {
  const known = useAddressBook()?.groups
  if (!known) return null
  // One that is gone can still be taken out.
  const gone = groups.filter((key) => !known.some((group) => group.key === key))
  const all = [...known, ...gone.map((key) => ({ key, name: `${key} (gone)`, addresses: [] }))]
  const set = (key: string, isIn: boolean) => {
    const next = [...groups.filter((one) => one !== key), ...(isIn ? [key] : [])]
    onChange(next.length === 0 ? undefined : next)
  }
  return (
    <fieldset className="mb-3 min-w-0">
      <legend className="field-label">{legend}</legend>
      {all.length === 0 && (
        <Link className="link text-xs text-secondary" to="/settings#staff">
          Groups of staff are made in the settings
        </Link>
      )}
      {all.map(({ key, name, addresses }) => (
        <label
          key={key}
          className="flex min-w-0 items-center gap-2 py-0.5"
          title={addresses.join(', ')}
        >
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={groups.includes(key)}
            onChange={(event) => set(key, event.target.checked)}
          />
          <span className="min-w-0 truncate">
            {name} <span className="text-xs text-secondary">{addresses.join(', ')}</span>
          </span>
        </label>
      ))}
    </fieldset>
  )
}
