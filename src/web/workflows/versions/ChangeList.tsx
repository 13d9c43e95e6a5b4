import type { ReactNode } from 'react'
import type { Change } from '../../../core/words/changes.ts'
import type { Selection } from '../selection.ts'

const KINDS: Readonly<Record<Change['kind'], string>> = {
  added: 'new',
  removed: 'gone',
  changed: 'changed',
  moved: 'moved',
}

/** Differences in words, each leading to its place where it has one. */
export function ChangeList({
  changes,
  onSelect,
}: {
  changes: readonly Change[]
  onSelect: (selection: Selection) => void
}): ReactNode {
  return (
    <ul className="flex flex-col gap-1">
      {changes.map(({ kind, text, was, place }) => {
        const words = (
          <>
            <span className="mr-2 font-mono text-[11px] text-warning">{KINDS[kind]}</span>
            <span className={kind === 'removed' ? 'line-through' : ''}>{text}</span>
            {was !== undefined && (
              <span className="block text-xs text-secondary">before: {was}</span>
            )}
          </>
        )
        return (
          <li key={`${kind} ${JSON.stringify(place)} ${text}`}>
            {place ? (
              <button
                type="button"
                className="w-full rounded-field px-2 py-1 text-left hover:bg-base-200"
                onClick={() => onSelect(place)}
              >
                {words}
              </button>
            ) : (
              <span className="block px-2 py-1">{words}</span>
            )}
          </li>
        )
      })}
    </ul>
  )
}
