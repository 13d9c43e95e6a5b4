import { lazy, Suspense, type ComponentType, type ReactNode } from 'react'

interface Props {
  label: string
  value: string
  onChange: (template: string) => void
  /** How high it is at least. */
  className?: string
}

// The editor is large: it comes when a message is looked at, not with the timetable.
const Line = lazy(async () => ({ default: (await import('./LineField.tsx')).LineField }))
const Lines = lazy(async () => ({ default: (await import('./LinesField.tsx')).LinesField }))

/** One line of words with merge fields. */
export const TemplateLine = (props: Props): ReactNode => <WhenThere {...props} Field={Line} />

/** A text without styles with merge fields, line by line as it is sent. */
export const TemplateLines = (props: Props): ReactNode => <WhenThere {...props} Field={Lines} />

function WhenThere({ Field, ...props }: Props & { Field: ComponentType<Props> }): ReactNode {
  return (
    <Suspense fallback={<Waiting {...props} />}>
      <Field {...props} />
    </Suspense>
  )
}

/** The words as they are kept, until the editor is there. */
function Waiting({ label, value, className = '' }: Props): ReactNode {
  return (
    <div className="mb-3" aria-busy="true">
      <span className="field-label">{label}</span>
      <div className={`template-text whitespace-pre-wrap text-secondary ${className}`}>{value}</div>
    </div>
  )
}
