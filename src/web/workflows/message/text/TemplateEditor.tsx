import type { Extensions, JSONContent } from '@tiptap/core'
import { EditorContent, useEditor, type Editor } from '@tiptap/react'
import { StarterKit } from '@tiptap/starter-kit'
import { useEffect, useRef, type ComponentType, type ReactNode } from 'react'
import { useLatest } from '../../../ui/useLatest.ts'
import { FieldOptions } from './FieldOptions.tsx'
import { FieldMenu } from './FieldMenu.tsx'
import { mergeFieldNode } from './mergeFieldNode.ts'

/** What no text here has. */
const NONE = {
  blockquote: false,
  code: false,
  codeBlock: false,
  heading: false,
  horizontalRule: false,
  strike: false,
  underline: false,
} as const

/** Paragraphs, lists, bold, italic and links; what else is pasted is left behind. */
export const RICH: Extensions = [
  StarterKit.configure({
    ...NONE,
    link: { openOnClick: false, autolink: true, linkOnPaste: true, defaultProtocol: 'https' },
  }),
  mergeFieldNode,
]

/** Words and merge fields in one line. */
export const LINE: Extensions = [
  StarterKit.configure({
    ...NONE,
    bold: false,
    italic: false,
    link: false,
    bulletList: false,
    orderedList: false,
    listItem: false,
    listKeymap: false,
    hardBreak: false,
    trailingNode: false,
  }),
  mergeFieldNode,
]

interface Props {
  label: string
  extensions: Extensions
  value: JSONContent
  onChange: (doc: JSONContent) => void
  isLine?: boolean
  /** What stands over the text. */
  Tools?: ComponentType<{ editor: Editor }>
}

/** A text with merge fields as chips. */
export function TemplateEditor(props: Props): ReactNode {
  const { label, extensions, value, onChange, isLine = false, Tools } = props
  const latest = useLatest(onChange)
  // What came from here is not put back: the cursor would jump.
  const own = useRef(JSON.stringify(value))
  const editor = useEditor({
    extensions,
    content: value,
    editorProps: {
      attributes: {
        role: 'textbox',
        'aria-label': label,
        'aria-multiline': String(!isLine),
        class: isLine ? 'template-text template-line' : 'template-text',
      },
      ...(isLine && { handleKeyDown: (_view, event) => event.key === 'Enter' }),
    },
    onUpdate: ({ editor: edited }) => {
      const doc = edited.getJSON()
      own.current = JSON.stringify(doc)
      latest.current(doc)
    },
  })
  const given = JSON.stringify(value)
  useEffect(() => {
    if (given === own.current) return
    own.current = given
    editor.commands.setContent(JSON.parse(given) as JSONContent, { emitUpdate: false })
  }, [editor, given])
  return (
    <div className="mb-3 min-w-0 flex-1">
      <div className="flex items-center">
        <span className="field-label mb-0 flex-1">{label}</span>
        {Tools && <Tools editor={editor} />}
        <FieldMenu
          into={label}
          onPick={(tag) =>
            editor.chain().focus().insertContent({ type: 'mergeField', attrs: { tag } }).run()
          }
        />
      </div>
      <EditorContent editor={editor} />
      <FieldOptions editor={editor} />
    </div>
  )
}
