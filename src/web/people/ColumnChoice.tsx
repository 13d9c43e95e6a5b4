import { Columns3 } from 'lucide-react'
import { useRef, useState, type ReactNode } from 'react'
import { useOutside } from '../ui/hooks/useOutside.ts'
import { CHOICES, FIRST_COLUMNS } from './PeopleTable.tsx'

const KEPT = 'yomble people columns'

/** The columns of the list of people, as this browser keeps them. */
export function useColumns(): [readonly string[], (columns: readonly string[]) => void] {
  const [columns, setColumns] = useState<readonly string[]>(() => {
    const kept = localStorage.getItem(KEPT)
    return kept === null ? FIRST_COLUMNS : kept.split(' ')
  })
  return [
    columns,
    (next) => {
      localStorage.setItem(KEPT, next.join(' '))
      setColumns(next)
    },
  ]
}

interface Props {
  chosen: readonly string[]
  onChange: (columns: readonly string[]) => void
}

/** Which columns are seen. */
export function ColumnChoice({ chosen, onChange }: Props): ReactNode {
  const [isOpen, setOpen] = useState(false)
  const frame = useRef<HTMLDivElement>(null)
  useOutside([frame], () => setOpen(false), isOpen)
  return (
    <div ref={frame} role="group" aria-label="Columns of the list" className="relative" onKeyDown={(event) => event.key === 'Escape' && setOpen(false)}>
      <button type="button" className="btn btn-sm" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        <Columns3 size={14} aria-hidden="true" /> Columns
      </button>
      {isOpen && (
        <fieldset className="panel absolute top-full right-0 z-30 mt-1 w-48 p-2">
          <legend className="sr-only">Columns</legend>
          {CHOICES.map(({ id, head }) => (
            <label key={id} className="flex items-center gap-2 px-1 py-1">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={chosen.includes(id)}
                onChange={({ target }) => onChange(target.checked ? [...chosen, id] : chosen.filter((one) => one !== id))}
              />
              {head}
            </label>
          ))}
        </fieldset>
      )}
    </div>
  )
} // prettier-ignore
