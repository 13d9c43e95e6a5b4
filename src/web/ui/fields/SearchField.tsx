import { useEffect, useState, type ReactNode } from 'react'

interface Props {
  label: string
  placeholder: string
  value: string
  /** Called once the typing has paused, with what stands there then. */
  onSearch: (search: string) => void
  className?: string
}

/** Long enough that a word is typed and asked for once; short enough not to be waited for. */
const PAUSE_MS = 250

/** Where somebody types what to look for. What is asked of the server waits for the typing to pause. */
export function SearchField({
  label,
  placeholder,
  value,
  onSearch,
  className = '',
}: Props): ReactNode {
  const [typed, setTyped] = useState({ text: value, of: value })
  // What is looked for can change elsewhere, by the address or a button.
  if (typed.of !== value) setTyped({ text: value, of: value })
  const { text } = typed
  useEffect(() => {
    if (text === value) return undefined
    const timer = setTimeout(() => onSearch(text), PAUSE_MS)
    return () => clearTimeout(timer)
  }, [text, value, onSearch])
  return (
    <input
      type="search"
      maxLength={100}
      className={`input input-sm ${className}`}
      placeholder={placeholder}
      aria-label={label}
      value={text}
      onChange={(event) => setTyped({ text: event.target.value, of: value })}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && text !== value) onSearch(text)
      }}
    />
  )
}
