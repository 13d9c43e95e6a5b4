import { CircleAlert, CircleCheck, CircleHelp } from 'lucide-react'
import type { ReactNode } from 'react'
import type { Finding } from '../../core/check/finding.ts'
import type { Selection } from './selection.ts'

interface Props {
  findings: Finding[]
  onSelect: (selection: Selection) => void
}

/** What the go-live check found; each finding leads to its place. */
export function FindingsStrip({ findings, onSelect }: Props): ReactNode {
  if (findings.length === 0) {
    return (
      <p className="flex items-center gap-2 text-secondary print:hidden" data-testid="no-findings">
        <CircleCheck size={16} className="text-primary" aria-hidden="true" /> The go-live check has
        found nothing to mend.
      </p>
    )
  }
  return (
    <ul
      aria-label="Go-live check"
      className="print:hidden flex max-h-36 shrink-0 flex-wrap gap-2 overflow-y-auto text-[13px] leading-snug"
    >
      {findings.map((finding) => (
        <li
          key={`${finding.code} ${JSON.stringify(finding.place)}`}
          className="max-w-md flex-1 basis-72"
        >
          <FindingCard finding={finding} onClick={() => onSelect(finding.place)} />
        </li>
      ))}
    </ul>
  )
}

function FindingCard({ finding, onClick }: { finding: Finding; onClick: () => void }): ReactNode {
  const stops = finding.severity === 'error'
  const Icon = stops ? CircleAlert : CircleHelp
  return (
    <button
      type="button"
      onClick={onClick}
      className={`panel flex h-full w-full items-start gap-2 px-3 py-2 text-left hover:bg-base-200 ${stops ? 'border-accent' : ''}`}
    >
      <Icon
        size={15}
        className={`mt-0.5 shrink-0 ${stops ? 'text-accent' : 'text-warning'}`}
        aria-hidden="true"
      />
      <span>
        <span className="text-xs text-secondary">
          {stops ? 'Stops going live' : 'Worth a thought'}
        </span>
        <span className="block font-medium">{finding.title}</span>
        <span className="text-secondary">{finding.detail}</span>
      </span>
    </button>
  )
}
