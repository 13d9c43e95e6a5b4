import { useEditorState, type Editor } from '@tiptap/react'
import type { ReactNode } from 'react'
import { FORMATS } from '../../../../core/messages/formats.ts'
import {
  findMergeField,
  tagOf,
  templateParts,
  type FieldPart,
} from '../../../../core/messages/mergeFields.ts'
import { useFields } from './fieldContext.ts'

/** For a merge field that is selected: how it is written, and what stands there where it is unknown. */
export function FieldOptions({ editor }: { editor: Editor }): ReactNode {
  const tag = useEditorState({
    editor,
    selector: ({ editor: at }) =>
      at.isActive('mergeField') ? String(at.getAttributes('mergeField')['tag'] ?? '') : null,
  })
  const [part] = tag === null ? [] : templateParts(tag)
  if (typeof part !== 'object') return null
  const change = (to: Partial<FieldPart>) => {
    const { from } = editor.state.selection
    const chain = editor.chain().updateAttributes('mergeField', { tag: tagOf({ ...part, ...to }) })
    // The changed chip is another one to the editor: it stays selected.
    chain.setNodeSelection(from).run()
  }
  return (
    <div className="mt-1 text-xs text-secondary">
      <WrittenAs part={part} onChange={(format) => change({ format })} />
      <label className="mt-1 flex items-center gap-2">
        Where it is unknown:
        <input
          className="input input-xs flex-1"
          placeholder="nothing is sent"
          value={part.fallback ?? ''}
          onChange={(event) => {
            // Quotes end the text of a tag.
            const text = event.target.value.replaceAll(/["{}]/g, '')
            change({ fallback: text === '' ? null : text })
          }}
        />
      </label>
    </div>
  )
}

interface WrittenAsProps {
  part: FieldPart
  onChange: (format: string | null) => void
}

/** The ways in which a field can be written, each as it would be for the one looked at. */
function WrittenAs({ part, onChange }: WrittenAsProps): ReactNode {
  const { values } = useFields()
  const { key, format } = part
  const kind = findMergeField(key)?.formats ?? null
  if (kind === null) return null
  const sample = (at: string) => (values[at] === undefined ? '' : `: ${values[at]}`)
  return (
    <label className="flex items-center gap-2">
      Written:
      <select
        className="select select-xs flex-1"
        value={format ?? ''}
        onChange={(event) => onChange(event.target.value === '' ? null : event.target.value)}
      >
        <option value="">as usual{sample(key)}</option>
        {FORMATS[kind].map((one) => (
          <option key={one.key} value={one.key}>
            {one.label}
            {sample(`${key} as ${one.key}`)}
          </option>
        ))}
      </select>
    </label>
  )
}
