import type { ReactNode } from 'react'
import { LINE, TemplateEditor } from './TemplateEditor.tsx'
import { lineDoc, lineOf } from './templateDoc.ts'

interface Props {
  label: string
  value: string
  onChange: (template: string) => void
}

/** One line of words with merge fields: a subject, a heading, the words on a button. */
export function LineField({ label, value, onChange }: Props): ReactNode {
  return (
    <TemplateEditor
      label={label}
      extensions={LINE}
      isLine
      value={lineDoc(value)}
      onChange={(doc) => onChange(lineOf(doc))}
    />
  )
}
