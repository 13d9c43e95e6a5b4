import type { Extensions, JSONContent } from '@tiptap/core'
import { Node, Slice } from '@tiptap/pm/model'
import type { EditorView } from '@tiptap/pm/view'
import { EditorContent, useEditor, type Editor, type UseEditorOptions } from '@tiptap/react'
import { StarterKit } from '@tiptap/starter-kit'
import {
  useEffect,
  useMemo,
  useRef,
  useState,
  type ComponentType,
  type CSSProperties,
  type ReactNode,
} from 'react'
import { useLatest } from '../../../ui/hooks/useLatest.ts'
import { useDeferred } from '../../../ui/hooks/typed.ts'
import { useFields } from './fieldContext.ts'
import { FieldOptions } from './FieldOptions.tsx'
import { FieldMenu } from './FieldMenu.tsx'
import { knownCursor } from './knownCursor.ts'
import { mergeFieldNode } from './mergeFieldNode.ts'
import { tagMarks } from './tagMarks.ts'

/** What no text here has. */
const NONE = {
  blockquote: false,
  code: false,
  codeBlock: false,
  heading: false,
  horizontalRule: false,
  strike: false,
  underline: false,
  // The workflow's own undo goes through texts too; two would undo twice.
  undoRedo: false,
} as const

/** Paragraphs, lists, bold, italic and links; what else is pasted is left behind. */
export const RICH: Extensions = [
  StarterKit.configure({
    ...NONE,
    link: { openOnClick: false, autolink: true, linkOnPaste: true, defaultProtocol: 'https' },
  }),
  mergeFieldNode,
  tagMarks,
  knownCursor,
]

/** Words and merge fields, in one line or several. */
export const PLAIN: Extensions = [
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
  tagMarks,
  knownCursor,
]

/** How a text is kept, and how the editor has it. */
export interface TextForm<Text> {
  extensions: Extensions
  docOf: (text: Text) => JSONContent
  textOf: (doc: JSONContent) => Text
  /** Of what is pasted only the words are taken, as a document of them. */
  pasted?: (words: string) => JSONContent
}

/** A text that is written on the message itself, as it looks there. */
export interface OnPaper {
  style: CSSProperties
  /** Where the cursor begins, from the corner of the window; null: at the end. */
  pressed: { x: number; y: number } | null
  onLeave: () => void
}

interface Props<Text> {
  label: string
  form: TextForm<Text>
  value: Text
  onChange: (text: Text) => void
  isLine?: boolean
  /** Where it is not as high as texts mostly are. */
  className?: string
  /** What stands over the text. */
  Tools?: ComponentType<{ editor: Editor }>
  onPaper?: OnPaper
}

/** A text with merge fields as chips. */
export function TemplateEditor<Text>(props: Props<Text>): ReactNode {
  const { label, Tools, onPaper } = props
  const { isReadOnly } = useFields()
  const editor = useTextEditor(props, isReadOnly)
  const pick = (tag: string) =>
    editor.chain().focus().insertContent({ type: 'mergeField', attrs: { tag } }).run()
  if (onPaper) {
    return (
      <>
        <div className="absolute -top-8 left-0 z-30 flex items-center rounded-field border border-primary bg-base-100 p-0.5 shadow-sm">
          {Tools && <Tools editor={editor} />}
          <FieldMenu into={label} onPick={pick} />
        </div>
        <div className="on-paper" style={onPaper.style}>
          <EditorContent editor={editor} />
        </div>
        <div className="absolute top-full left-0 z-30 bg-base-100 px-2 empty:hidden">
          <FieldOptions editor={editor} />
        </div>
      </>
    )
  }
  return (
    <div className="mb-3 min-w-0 flex-1">
      <div className="flex items-center">
        <span className="field-label mb-0 flex-1">{label}</span>
        {Tools && <Tools editor={editor} />}
        <FieldMenu into={label} onPick={pick} />
      </div>
      <EditorContent editor={editor} />
      <FieldOptions editor={editor} />
    </div>
  )
}

function useTextEditor<Text>(props: Props<Text>, isReadOnly: boolean): Editor {
  const { label, form, value, onChange, isLine = false, className = '', onPaper } = props
  const tell = useDeferred(onChange)
  // What came from here is not put back: the cursor would jump.
  const own = useRef(JSON.stringify(value))
  const { values } = useFields()
  const latest = useLatest({ values, onPaper })
  const [first] = useState(() => ({
    content: form.docOf(value),
    editable: !isReadOnly,
    extensions: onPaper
      ? withValues(form.extensions, (key) => latest.current.values[key])
      : form.extensions,
  }))
  const isOnPaper = onPaper !== undefined
  // The same for as long as they say the same: others would make the editor anew.
  const options = useMemo(
    (): UseEditorOptions => ({
      ...first,
      coreExtensionOptions: { clipboardTextSerializer: { blockSeparator: '\n' } },
      editorProps: {
        attributes: {
          role: 'textbox',
          'aria-label': label,
          'aria-multiline': String(!isLine),
          class: isOnPaper
            ? 'outline-none'
            : `template-text ${isLine ? 'template-line' : ''} ${className}`,
        },
        handleKeyDown: (_view, event) => {
          if (event.key === 'Escape') latest.current.onPaper?.onLeave()
          return isLine && event.key === 'Enter'
        },
        ...(form.pasted && { handlePaste: pasteWords(form.pasted) }),
      },
      onUpdate: ({ editor: edited }) => {
        const text = form.textOf(edited.getJSON())
        own.current = JSON.stringify(text)
        tell(text)
      },
    }),
    [first, form, label, isLine, className, tell, isOnPaper, latest],
  )
  const editor = useEditor(options)
  useEffect(() => {
    const given = JSON.stringify(value)
    if (given === own.current) return
    own.current = given
    putBack(editor, form.docOf(value))
  }, [editor, form, value])
  useEffect(() => editor.setEditable(!isReadOnly, false), [editor, isReadOnly])
  useEffect(() => {
    const { onPaper: paper } = latest.current
    if (paper) beginOnPaper(editor, paper)
  }, [editor, latest])
  return editor
}

/** Puts the cursor where the words were pressed. */
function beginOnPaper(editor: Editor, { pressed }: OnPaper): void {
  const at = pressed && editor.view.posAtCoords({ left: pressed.x, top: pressed.y })
  editor.commands.focus(at ? at.pos : 'end', { scrollIntoView: false })
}

/** Merge fields that show what they say for the one who is looked at. */
const withValues = (
  extensions: Extensions,
  valueOf: (key: string) => string | undefined,
): Extensions =>
  extensions.map((one) => (one === mergeFieldNode ? mergeFieldNode.configure({ valueOf }) : one))

/** Shows what was made elsewhere (undone, chosen, written by another), with the cursor behind what has changed. */
function putBack(editor: Editor, doc: JSONContent): void {
  const before = editor.state.doc.content
  editor.commands.setContent(doc, { emitUpdate: false })
  const { content } = editor.state.doc
  // Letters that repeat may count for both ends.
  const start = content.findDiffStart(before) ?? 0
  const end = content.findDiffEnd(before)?.a ?? 0
  editor.commands.setTextSelection(Math.min(Math.max(start, end), content.size))
}

const pasteWords =
  (docOf: (words: string) => JSONContent) =>
  (view: EditorView, event: ClipboardEvent): boolean => {
    const words = event.clipboardData?.getData('text/plain') ?? ''
    if (words === '') return false
    const { content } = Node.fromJSON(view.state.schema, docOf(words.replaceAll(/\r\n?/g, '\n')))
    view.dispatch(view.state.tr.replaceSelection(Slice.maxOpen(content)).scrollIntoView())
    return true
  }
