import type { ReactNode } from 'react'
import type { BesideChoice } from './useBeside.ts'

/** What is looked at beside the message: an earlier version of it, or another message. */
export function CompareSelect({ choice }: { choice: BesideChoice }): ReactNode {
  const { versions, messages, chosen, choose } = choice
  if (versions.length + messages.length === 0) return null
  return (
    <select
      className="select select-xs w-36"
      aria-label="Compare with"
      value={chosen}
      onChange={(event) => choose(event.target.value)}
    >
      <option value="">Compare with …</option>
      {versions.length > 0 && (
        <optgroup label="This message in">
          {versions.map((version) => (
            <option key={version} value={`version ${version}`}>
              version {version}
            </option>
          ))}
        </optgroup>
      )}
      {messages.length > 0 && (
        <optgroup label="Another message">
          {messages.map(({ key, name }) => (
            <option key={key} value={`step ${key}`}>
              {name || 'Unnamed message'}
            </option>
          ))}
        </optgroup>
      )}
    </select>
  )
}
