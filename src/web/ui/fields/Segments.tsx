import { useId, type ReactNode } from 'react'

export interface Segment<Value extends string> {
  value: Value
  label: string
  /** What is seen in place of the words. */
  sign?: ReactNode
}

interface Props<Value extends string> {
  label: string
  /** Null: as it is by itself; then none is pressed. */
  value: Value | null
  choices: readonly Segment<Value>[]
  onChange: (value: Value | null) => void
}

/** A few choices side by side. Pressing the one that is chosen takes the choice back. */
export function Segments<Value extends string>(props: Props<Value>): ReactNode {
  const { label, value, choices, onChange } = props
  const id = useId()
  return (
    <div className="mb-2 flex items-center gap-2">
      <span id={id} className="w-20 shrink-0 text-xs text-secondary">
        {label}
      </span>
      <div role="group" aria-labelledby={id} className="flex min-w-0 flex-1 flex-wrap gap-0.5">
        {choices.map((choice) => {
          const isOn = choice.value === value
          return (
            <button
              key={choice.value}
              type="button"
              className={`btn btn-xs ${choice.sign ? 'btn-square' : ''} ${isOn ? 'btn-neutral' : ''}`}
              aria-pressed={isOn}
              aria-label={choice.sign ? choice.label : undefined}
              title={choice.sign ? choice.label : undefined}
              onClick={() => onChange(isOn ? null : choice.value)}
            >
              {choice.sign ?? choice.label}
            </button>
          )
        })}
      </div>
    </div>
  )
}
