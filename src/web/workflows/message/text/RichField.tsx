import { useEditorState, type Editor } from '@tiptap/react'
import { Bold, Italic, Link2, List, ListOrdered } from 'lucide-react'
import { useState, type MouseEvent, type ReactNode } from 'react'
import type { Paragraph } from '../../../../core/blocks/blocks.ts'
import { meantAddress } from '../../../../core/messages/links.ts'
import { IconToggle } from '../../../ui/fields/IconToggle.tsx'
import { RICH, TemplateEditor, type OnPaper, type TextForm } from './TemplateEditor.tsx'
import { docOf, paragraphsOf } from './templateDoc.ts'

interface Props {
  label: string
  value: Paragraph[]
  onChange: (paragraphs: Paragraph[]) => void
  /** Written on the message itself. */
  onPaper?: OnPaper
}

const FORM: TextForm<Paragraph[]> = { extensions: RICH, docOf, textOf: paragraphsOf }

/** Paragraphs and lists with bold, italic, links and merge fields. */
export function RichField(props: Props): ReactNode {
  return <TemplateEditor {...props} form={FORM} Tools={Tools} />
}

function Tools({ editor }: { editor: Editor }): ReactNode {
  const [linking, setLinking] = useState(false)
  const is = useEditorState({
    editor,
    selector: ({ editor: at }) => ({
      bold: at.isActive('bold'),
      italic: at.isActive('italic'),
      bulletList: at.isActive('bulletList'),
      orderedList: at.isActive('orderedList'),
      link: at.isActive('link'),
    }),
  })
  const chain = () => editor.chain().focus()
  return (
    <span className="relative flex" role="group" aria-label="Style" onMouseDown={keepFocus}>
      <IconToggle label="Bold" Icon={Bold} on={is.bold} onClick={() => chain().toggleBold().run()} />
      <IconToggle label="Italic" Icon={Italic} on={is.italic} onClick={() => chain().toggleItalic().run()} />
      <IconToggle label="List" Icon={List} on={is.bulletList} onClick={() => chain().toggleBulletList().run()} />
      <IconToggle label="Numbered list" Icon={ListOrdered} on={is.orderedList} onClick={() => chain().toggleOrderedList().run()} />
      <IconToggle label="Link" Icon={Link2} on={is.link} onClick={() => setLinking(!linking)} />
      {linking && <LinkForm editor={editor} onClose={() => setLinking(false)} />}
    </span>
  )
} // prettier-ignore

/** The editor keeps the focus when a button is pressed: given back a frame later, the next letter would be lost. */
function keepFocus(event: MouseEvent): void {
  if (!(event.target instanceof HTMLInputElement)) event.preventDefault()
}

function LinkForm({ editor, onClose }: { editor: Editor; onClose: () => void }): ReactNode {
  const [href, setHref] = useState(String(editor.getAttributes('link')['href'] ?? ''))
  const apply = () => {
    const chain = editor.chain().focus().extendMarkRange('link')
    const to = href.trim()
    if (to === '') chain.unsetLink().run()
    // Nobody types "https://".
    else chain.setLink({ href: meantAddress(to) ?? to }).run()
    onClose()
  }
  return (
    <span className="panel absolute top-7 right-0 z-40 flex w-80 gap-1 p-2">
      <input
        className="input input-xs flex-1"
        aria-label="Where the link leads"
        placeholder="https://"
        value={href}
        onChange={(event) => setHref(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            event.preventDefault()
            apply()
          } else if (event.key === 'Escape') onClose()
        }}
      />
      <button type="button" className="btn btn-xs" onClick={apply}>
        {href.trim() === '' ? 'No link' : 'Link'}
      </button>
    </span>
  )
}
