import { Plus, X } from 'lucide-react'
import type { ReactNode } from 'react'
import { TextField } from './fields.tsx'

interface LinkValue {
  label: string
  href: string
}

interface Props {
  value: readonly LinkValue[]
  onChange: (links: LinkValue[]) => void
  most: number
}

/** A few links, each with its words. */
export function LinksField({ value, onChange, most }: Props): ReactNode {
  const set = (index: number, to: Partial<LinkValue>) =>
    onChange(value.map((one, at) => (at === index ? { ...one, ...to } : one)))
  return (
    <div className="mb-3">
      {value.map((link, index) => (
        // A link is what stands at its place: it has no other name.
        <div key={String(index)} className="flex items-end gap-1">
          <TextField label="Words" value={link.label} onChange={(label) => set(index, { label })} />
          <TextField label="Leads to" value={link.href} onChange={(href) => set(index, { href })} />
          <button
            type="button"
            className="btn btn-ghost btn-xs btn-square mb-4"
            aria-label={`Remove link ${index + 1}`}
            onClick={() => onChange(value.filter((_one, at) => at !== index))}
          >
            <X size={13} />
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-xs"
        disabled={value.length >= most}
        onClick={() => onChange([...value, { label: '', href: 'https://' }])}
      >
        <Plus size={13} aria-hidden="true" /> Add a link
      </button>
    </div>
  )
}
