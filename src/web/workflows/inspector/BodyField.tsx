import { memo, useCallback, useMemo, useRef, type ReactNode } from 'react'
import { FORMATS } from '../../../core/messages/formats.ts'
import {
  canFillField,
  MERGE_FIELDS,
  newTag,
  type MergeField,
} from '../../../core/messages/mergeFields.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { AreaField } from '../../ui/fields.tsx'
import { useLatest } from '../../ui/useLatest.ts'

interface Props {
  definition: Definition
  value: string
  onChange: (body: string) => void
  rows?: number
  /** Read by colleagues, who may have what is for them only. */
  forStaff?: boolean
}

/** The text, and the merge fields that can be put into it at the cursor. */
export function BodyField({
  definition,
  value,
  onChange,
  rows = 11,
  forStaff = false,
}: Props): ReactNode {
  const box = useRef<HTMLDivElement>(null)
  const { steps, trigger } = definition
  const hasCoupon = useMemo(() => allSteps(steps).some(({ kind }) => kind === 'coupon'), [steps])
  const latest = useLatest({ value, onChange })
  const insert = useCallback(
    (field: MergeField) => {
      const { value: text, onChange: change } = latest.current
      const area = box.current?.querySelector('textarea')
      const from = area?.selectionStart ?? text.length
      const to = area?.selectionEnd ?? text.length
      change(text.slice(0, from) + newTag(field) + text.slice(to))
      area?.focus()
    },
    [latest],
  )
  return (
    <div ref={box}>
      <AreaField label="Text" rows={rows} value={value} onChange={onChange} />
      <MergeFieldButtons
        trigger={trigger}
        hasCoupon={hasCoupon}
        forStaff={forStaff}
        onInsert={insert}
      />
    </div>
  )
}

interface ButtonsProps extends Pick<Definition, 'trigger'> {
  hasCoupon: boolean
  forStaff: boolean
  onInsert: (field: MergeField) => void
}

const MergeFieldButtons = memo(function MergeFieldButtons(props: ButtonsProps): ReactNode {
  const { trigger, hasCoupon, forStaff, onInsert } = props
  const fields = MERGE_FIELDS.filter(
    (field) => canFillField(field, trigger, hasCoupon) && (forStaff || !field.forStaff),
  )
  return (
    <div className="-mt-2 mb-3 flex flex-wrap gap-1" role="group" aria-label="Merge fields">
      {fields.map((field) => (
        <button
          key={field.key}
          type="button"
          className="chip hover:bg-base-200"
          title={hintOf(field)}
          onClick={() => onInsert(field)}
        >
          {field.label}
        </button>
      ))}
    </div>
  )
})

/** The tag, and in what other ways it can be written. */
function hintOf(field: MergeField): string {
  const others = field.formats === null ? [] : FORMATS[field.formats]
  const ways = others.map(({ key, label }) => `| as: "${key}" (${label})`)
  return [newTag(field), ...ways].join('\n')
}
