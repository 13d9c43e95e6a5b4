import { useId, useState, type ReactNode } from 'react'
import type { ReorderRow } from '../../contract/reorders.ts'
import { askedBefore } from '../../core/reorder/check.ts'
import { askedWords, intervalWords } from '../../core/words/reorderWords.ts'
import { NumberField } from '../ui/fields/fields.tsx'
import { CheckChart } from './CheckChart.tsx'

/** One product: what is known of it in words, and what would have come of going by it. */
export function ReorderDetail({ row }: { row: ReorderRow }): ReactNode {
  const id = useId()
  return (
    <section className="panel p-4" aria-labelledby={id}>
      <h2 id={id} className="text-base">
        {row.kind === 'category' ? `Others in ${row.name}` : row.name}
      </h2>
      {intervalWords(row.interval).map((sentence) => (
        <p key={sentence} className="mt-1 max-w-3xl">
          {sentence}
        </p>
      ))}
      <Check row={row} />
    </section>
  )
}

const MOST_LEAD = 60

function Check({ row: { check } }: { row: ReorderRow }): ReactNode {
  const [lead, setLead] = useState(3)
  if (check === null) {
    return (
      <p className="mt-3 max-w-3xl text-secondary">
        Half a year ago too little was known of it to expect anything, so it cannot be held against
        what came yet.
      </p>
    )
  }
  return (
    <div className="mt-4">
      <h3 className="text-sm font-bold">If you had asked in the last half year</h3>
      <div className="mt-2 flex flex-wrap items-end gap-4">
        <div className="w-28">
          <NumberField label="Days ahead" value={lead} min={0} max={MOST_LEAD} onChange={setLead} />
        </div>
        <p className="mb-3 max-w-2xl flex-1 basis-80">
          {askedWords(askedBefore(check, lead), lead)}
        </p>
      </div>
      <CheckChart check={check} lead={lead} />
    </div>
  )
}
