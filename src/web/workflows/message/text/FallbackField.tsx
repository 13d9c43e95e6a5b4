import { useEditorState, type Editor } from '@tiptap/react'
import type { ReactNode } from 'react'
import { templateParts } from '../../../../core/messages/mergeFields.ts'

/** For a merge field that is selected: what stands in its place where it is unknown. */
export function FallbackField({ editor }: { editor: Editor }): ReactNode {
  const tag = useEditorState({
    editor,
    selector: ({ editor: at }) =>
      at.isActive('mergeField') ? String(at.getAttributes('mergeField')['tag'] ?? '') : null,
  })
  const [part] = tag === null ? [] : templateParts(tag)
  if (typeof part !== 'object') return null
  return (
    <label className="mt-1 flex items-center gap-2 text-xs text-secondary">
      Where it is unknown:
      <input
        className="input input-xs flex-1"
        placeholder="nothing is sent"
        value={part.fallback ?? ''}
        onChange={(event) => {
          // Quotes end the text of a tag.
          const text = event.target.value.replaceAll(/["{}]/g, '')
          const to = text === '' ? `{{ ${part.key} }}` : `{{ ${part.key} | default: "${text}" }}`
          editor.commands.updateAttributes('mergeField', { tag: to })
        }}
      />
    </label>
  )
}
