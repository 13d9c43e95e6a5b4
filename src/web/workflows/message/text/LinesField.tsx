import type { ReactNode } from 'react'
import { PLAIN, TemplateEditor, type TextForm } from './TemplateEditor.tsx'
import { linesDoc, linesOf } from './templateDoc.ts'

interface Props {
  label: string
  value: string
  onChange: (template: string) => void
  /** How high it is at least. */
  className?: string
}

const FORM: TextForm<string> = {
  extensions: PLAIN,
  docOf: linesDoc,
  textOf: linesOf,
  pasted: linesDoc,
}

/** A text without styles, line by line as it is sent: a letter, a note, a text message. */
export function LinesField({ className = '', ...props }: Props): ReactNode {
  return <TemplateEditor {...props} form={FORM} className={`template-lines ${className}`} />
}
