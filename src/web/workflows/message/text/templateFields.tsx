import type { ReactNode } from 'react'
import { loaded } from '../../../ui/loaded.tsx'

interface Props {
  label: string
  value: string
  onChange: (template: string) => void
  /** How high it is at least. */
  className?: string
}

/** One line of words with merge fields. Its editor is large, and does not come with the timetable. */
export const TemplateLine = loaded<Props>(
  async () => (await import('./LineField.tsx')).LineField,
  (props) => <Waiting {...props} height="template-line" />,
)

/** A text without styles with merge fields, line by line as it is sent. */
export const TemplateLines = loaded<Props>(
  async () => (await import('./LinesField.tsx')).LinesField,
  (props) => <Waiting {...props} height={props.className ?? ''} />,
)

/** The words as they are kept, until the editor is there. */
function Waiting({ label, value, height }: Props & { height: string }): ReactNode {
  return (
    <div className="mb-3" aria-busy="true">
      <span className="field-label">{label}</span>
      <div className={`template-text whitespace-pre-wrap text-secondary ${height}`}>
        {value || '\u00A0'}
      </div>
    </div>
  )
}
