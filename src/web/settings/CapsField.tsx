import { Plus, X } from 'lucide-react'
import type { ReactNode } from 'react'
import type { ShopRules } from '../../contract/shopRules.ts'
import { whole } from '../ui/conditions/WindowField.tsx'

type Cap = NonNullable<ShopRules['caps']>[number]

const WAYS = { all: 'in all', email: 'by email', sms: 'by text message' } as const

interface Props {
  caps: readonly Cap[]
  onChange: (caps: Cap[]) => void
}

/** At most so many marketing messages to one person in so many days. */
export function CapsField({ caps, onChange }: Props): ReactNode {
  return (
    <div className="mb-3">
      <h3 className="field-label">At most, to one person</h3>
      {caps.length === 0 && <p className="text-secondary">no limit but the time between two</p>}
      <ul>
        {caps.map((cap, index) => (
          // They have no identity but their place.
          <li key={index} className="mb-1 flex flex-wrap items-center gap-2">
            <CapFields cap={cap} onChange={(next) => onChange(caps.with(index, next))} />
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label="Remove this limit"
              onClick={() => onChange(caps.filter((_, other) => other !== index))}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      {caps.length < 6 && (
        <button
          type="button"
          className="btn btn-ghost btn-xs mt-1"
          onClick={() => onChange([...caps, { channel: 'all', most: 3, days: 7 }])}
        >
          <Plus size={12} aria-hidden="true" /> limit
        </button>
      )}
      <p className="mt-1 text-xs text-secondary">
        What would be too much waits, or is skipped, as each message says of the time between two. Of several that wait, the
        workflow of the highest priority goes first.
      </p>
    </div>
  )
} // prettier-ignore

function CapFields({ cap, onChange }: { cap: Cap; onChange: (cap: Cap) => void }): ReactNode {
  return (
    <>
      <CapNumber label="How many" value={cap.most} most={100} onChange={(most) => onChange({ ...cap, most })} />
      <select
        className="select select-sm w-40"
        aria-label="By which way"
        value={cap.channel}
        onChange={({ target }) => onChange({ ...cap, channel: target.value as Cap['channel'] })}
      >
        {Object.entries(WAYS).map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
      in
      <CapNumber label="In how many days" value={cap.days} most={365} onChange={(days) => onChange({ ...cap, days })} />
      days
    </>
  )
} // prettier-ignore

interface NumberProps {
  label: string
  value: number
  most: number
  onChange: (value: number) => void
}

/** A number that counts once it is left, so that a half-typed one changes nothing. */
function CapNumber({ label, value, most, onChange }: NumberProps): ReactNode {
  return (
    <input
      key={value}
      type="number"
      min={1}
      max={most}
      aria-label={label}
      className="input input-sm w-20 font-mono"
      defaultValue={value}
      onBlur={({ target }) => {
        const typed = whole(target.value, 1, most)
        if (typed !== value) onChange(typed)
        target.value = String(typed)
      }}
    />
  )
}
