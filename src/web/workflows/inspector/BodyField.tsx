import { useRef, type ReactNode } from 'react'
import { canFillField, MERGE_FIELDS, type MergeField } from '../../../core/messages/mergeFields.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { AreaField } from '../../ui/fields.tsx'

interface Props {
  definition: Definition
  value: string
  onChange: (body: string) => void
  rows?: number
}

/** The text, and the merge fields that can be put into it at the cursor. */
export function BodyField({ definition, value, onChange, rows = 11 }: Props): ReactNode {
  const box = useRef<HTMLDivElement>(null)
  const hasCoupon = allSteps(definition.steps).some(({ kind }) => kind === 'coupon')
  const fields = MERGE_FIELDS.filter((field) => canFillField(field, definition.trigger, hasCoupon))
  const insert = (field: MergeField) => {
    const area = box.current?.querySelector('textarea')
    const from = area?.selectionStart ?? value.length
    const to = area?.selectionEnd ?? value.length
    onChange(value.slice(0, from) + tagOf(field) + value.slice(to))
    area?.focus()
  }
  return (
    <div ref={box}>
      <AreaField label="Text" rows={rows} value={value} onChange={onChange} />
      <div className="-mt-2 mb-3 flex flex-wrap gap-1" role="group" aria-label="Merge fields">
        {fields.map((field) => (
          <button
            key={field.key}
            type="button"
            className="chip hover:bg-base-200"
            title={tagOf(field)}
            onClick={() => insert(field)}
          >
            {field.label}
          </button>
        ))}
      </div>
    </div>
  )
}

function tagOf({ key, alwaysFilled }: MergeField): string {
  return alwaysFilled ? `{{ ${key} }}` : `{{ ${key} | default: "there" }}`
}
