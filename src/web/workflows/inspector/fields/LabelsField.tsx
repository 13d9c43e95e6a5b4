import { X } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Field } from '../../../ui/fields/fields.tsx'

interface Props {
  value: readonly string[]
  onChange: (labels: string[]) => void
}

/** What the workflow is filed under in the list; labels are added with Enter, several at once with commas between. */
export function LabelsField({ value, onChange }: Props): ReactNode {
  const [text, setText] = useState('')
  const add = () => {
    const labels = new Set([
      ...value,
      ...text.split(',').map((label) => label.trim().slice(0, 40).trim()),
    ])
    labels.delete('')
    if (labels.size > value.length) onChange([...labels].slice(0, 10))
    setText('')
  }
  return (
    <Field label="Labels, for the list">
      {(id) => (
        <>
          {value.length > 0 && (
            <div className="mb-1 flex flex-wrap gap-1">
              {value.map((label) => (
                <span key={label} className="chip">
                  {label}
                  <button
                    type="button"
                    aria-label={`Remove the label ${label}`}
                    onClick={() => onChange(value.filter((one) => one !== label))}
                  >
                    <X size={12} />
                  </button>
                </span>
              ))}
            </div>
          )}
          <input
            id={id}
            className="input input-sm w-full"
            placeholder="Add labels and press Enter"
            value={text}
            onChange={(event) => setText(event.target.value)}
            onBlur={add}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return
              event.preventDefault()
              add()
            }}
          />
        </>
      )}
    </Field>
  )
}
