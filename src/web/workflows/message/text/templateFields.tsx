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
export const TemplateLine = (props: Props): ReactNode => (
  <WhenThere {...props} Field={Line} height="template-line" />
)

/** A text without styles with merge fields, line by line as it is sent. */
export const TemplateLines = (props: Props): ReactNode => (
  <WhenThere {...props} Field={Lines} height={props.className ?? ''} />
)

interface ThereProps extends Props {
  Field: ComponentType<Props>
  /** The class by which the field is as high as it will be. */
  height: string
}

function WhenThere({ Field, height, ...props }: ThereProps): ReactNode {
  return (
    <Suspense fallback={<Waiting label={props.label} value={props.value} height={height} />}>
      <Field {...props} />
    </Suspense>
  )
}

/** The words as they are kept, until the editor is there. */
function Waiting({ label, value, height }: Omit<ThereProps, 'Field' | 'onChange'>): ReactNode {
  return (
    <div className="mb-3" aria-busy="true">
      <span className="field-label">{label}</span>
      <div className={`template-text whitespace-pre-wrap text-secondary ${height}`}>
        {value || '\u00A0'}
      </div>
    </div>
  )
}
