import { useState, type ReactNode } from 'react'
import { ChoiceField } from '../ui/fields/fields.tsx'

const SHARES = [2, 5, 10, 20] as const

interface Props {
  percent: number | null
  onChange: (percent: number | null) => void
}

/** How many people get no marketing. One that goes on for months is not ended by a slip of the hand. */
export function HoldoutField({ percent, onChange }: Props): ReactNode {
  const [asked, setAsked] = useState<string | null>(null)
  const current = percent === null ? 'none' : String(percent)
  const save = (next: string) => {
    setAsked(null)
    onChange(next === 'none' ? null : Number(next))
  }
  const choose = (next: string) => {
    if (next === current) setAsked(null)
    else if (percent === null) save(next)
    else setAsked(next)
  }
  return (
    <div>
      <ChoiceField
        label="Held out, to see what marketing causes"
        value={asked ?? current}
        choices={choicesWith(percent)}
        onChange={choose}
      />
      {asked !== null && (
        <p role="alert" className="mt-1 max-w-72 text-xs">
          This ends the holdout that goes on; its figures stay.
          {asked !== 'none' && ' The new one draws other people and begins at nought.'}{' '}
          <button type="button" className="link" onClick={() => save(asked)}>
            Change it
          </button>{' '}
          <button type="button" className="link" onClick={() => setAsked(null)}>
            Keep it
          </button>
        </p>
      )}
    </div>
  )
}

function choicesWith(percent: number | null): Record<string, string> {
  const shares = new Set([...SHARES, ...(percent === null ? [] : [percent])])
  const sorted = [...shares].toSorted((a, b) => a - b)
  return {
    none: 'nobody',
    ...Object.fromEntries(sorted.map((share) => [String(share), `${share} in 100 people`])),
  }
}
