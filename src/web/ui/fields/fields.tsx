import { useId, type ReactNode } from 'react'

interface FieldProps {
  label: string
  children: (id: string) => ReactNode
}

/** A labelled control. */
export function Field({ label, children }: FieldProps): ReactNode {
  const id = useId()
  return (
    <div className="mb-3 min-w-0 flex-1">
      <label className="field-label" htmlFor={id}>
        {label}
      </label>
      {children(id)}
    </div>
  )
}

interface TextProps {
  label: string
  value: string
  onChange: (value: string) => void
  placeholder?: string
}

export function TextField({ label, value, onChange, placeholder }: TextProps): ReactNode {
  return (
    <Field label={label}>
      {(id) => (
        <input
          id={id}
          className="input input-sm w-full"
          value={value}
          placeholder={placeholder}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </Field>
  )
}

export function AreaField({
  label,
  value,
  onChange,
  rows = 10,
}: TextProps & { rows?: number }): ReactNode {
  return (
    <Field label={label}>
      {(id) => (
        <textarea
          id={id}
          className="textarea textarea-sm w-full leading-relaxed"
          rows={rows}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </Field>
  )
}

interface NumberProps {
  label: string
  value: number
  min: number
  max: number
  onChange: (value: number) => void
}

/** A whole number within limits; what is typed beyond them is brought back to them. */
export function NumberField({ label, value, min, max, onChange }: NumberProps): ReactNode {
  return (
    <Field label={label}>
      {(id) => (
        <input
          id={id}
          className="input input-sm w-full font-mono"
          type="number"
          min={min}
          max={max}
          value={value}
          onChange={(event) => {
            const typed = Math.round(Number(event.target.value))
            if (Number.isFinite(typed)) onChange(Math.min(max, Math.max(min, typed)))
          }}
        />
      )}
    </Field>
  )
}

interface ChoiceProps<Value extends string> {
  label: string
  value: Value
  choices: Readonly<Record<Value, string>>
  onChange: (value: Value) => void
  hideLabel?: boolean
}

/** One of a few values, told by their labels. */
export function ChoiceField<Value extends string>({
  label,
  value,
  choices,
  onChange,
  hideLabel,
}: ChoiceProps<Value>): ReactNode {
  const select = (id?: string) => (
    <select
      id={id}
      aria-label={hideLabel ? label : undefined}
      className="select select-sm w-full"
      value={value}
      onChange={(event) => onChange(event.target.value as Value)}
    >
      {Object.entries<string>(choices).map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </select>
  )
  return hideLabel ? select() : <Field label={label}>{select}</Field>
}
