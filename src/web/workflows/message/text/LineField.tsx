import type { ReactNode } from 'react'
import { PLAIN, TemplateEditor, type OnPaper, type TextForm } from './TemplateEditor.tsx'
import { lineDoc, lineOf } from './templateDoc.ts'

interface Props {
  label: string
  value: string
  onChange: (template: string) => void
  /** Written on the message itself. */
  onPaper?: OnPaper
}

const FORM: TextForm<string> = {
  extensions: PLAIN,
  docOf: lineDoc,
  textOf: lineOf,
  pasted: lineDoc,
}

/** One line of words with merge fields: a subject, a heading, the words on a button. */
export function LineField(props: Props): ReactNode {
  return <TemplateEditor {...props} form={FORM} isLine />
}
