import { Download } from 'lucide-react'
import type { ReactNode } from 'react'
import { RESULT_WINDOWS } from '../../../contract/results.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps, listsOf } from '../../../core/workflow/lists.ts'
import { isBranching } from '../../../core/workflow/steps.ts'
import { wayName } from '../../../core/words/wayNames.ts'
import { stepName } from '../../../core/words/steps.ts'
import { queryOf } from '../../ui/data/api.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { useToday } from '../../ui/data/useToday.ts'
import { SHOWN_MEASURES, shownMeasureLabel, type ShownMeasure } from './measured.ts'
import { queryFor, SPANS, wayKey, type Filter } from './useFilter.ts'
import { TickField } from '../../ui/fields/TickField.tsx'

interface Props {
  filter: Filter
  onChange: (filter: Filter) => void
  definition: Definition | undefined
  versions: readonly number[]
  /** What takes the place of what only the whole workflow has. */
  children?: ReactNode
}

/** Whose results are shown: when they entered, how long it counts, by which version and path. */
export function Filters({ filter, onChange, definition, versions, children }: Props): ReactNode {
  const change = (to: Partial<Filter>) => onChange({ ...filter, ...to })
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 text-xs">
      <TimeChoice filter={filter} change={change} />
      <label className="flex items-center gap-2 whitespace-nowrap">
        and what they did in their first
        <select
          className="select select-sm w-24"
          value={filter.windowDays}
          onChange={(event) => change({ windowDays: Number(event.target.value) })}
        >
          {RESULT_WINDOWS.map((days) => (
            <option key={days} value={days}>
              {days} days
            </option>
          ))}
        </select>
      </label>
      {definition && (
        <WayChoice definition={definition} way={filter.way} onChange={(way) => change({ way })} />
      )}
      {versions.length > 1 && (
        <select
          className="select select-sm w-28"
          aria-label="Version"
          value={filter.version ?? ''}
          onChange={(event) => change({ version: Number(event.target.value) || null })}
        >
          <option value="">all versions</option>
          {versions.map((version) => (
            <option key={version} value={version}>
              version {version}
            </option>
          ))}
        </select>
      )}
      {children ?? <OnTimetable filter={filter} change={change} />}
    </div>
  )
}

interface DownloadsProps {
  filter: Filter
  workflowId: string
}

/** All that is shown, for elsewhere. */
export function Downloads({ filter, workflowId }: DownloadsProps): ReactNode {
  const { zone } = useShop()
  const query = queryOf(queryFor(filter, zone))
  return (
    <span className="flex gap-1">
      {(['csv', 'json'] as const).map((kind) => (
        <a
          key={kind}
          className="btn btn-ghost btn-sm"
          href={`/api/workflows/${workflowId}/results${kind === 'csv' ? '.csv' : ''}${query}`}
          download={kind === 'json' ? `results-${workflowId}.json` : undefined}
        >
          <Download size={14} aria-hidden="true" /> {kind.toUpperCase()}
        </a>
      ))}
    </span>
  )
}

interface TimeProps {
  filter: Filter
  change: (to: Partial<Filter>) => void
}

function TimeChoice({ filter, change }: TimeProps): ReactNode {
  const today = useToday()()
  const isOwn = filter.since !== '' || filter.until !== ''
  return (
    <>
      <label className="flex items-center gap-2 whitespace-nowrap">
        who entered {isOwn ? '' : 'in the last'}
        <select
          className="select select-sm w-28"
          value={isOwn ? 'own' : filter.days}
          onChange={(event) =>
            event.target.value === 'own'
              ? change({ since: `${today.slice(0, 8)}01`, until: today })
              : change({ days: Number(event.target.value), since: '', until: '' })
          }
        >
          {SPANS.map((days) => (
            <option key={days} value={days}>
              {days === 365 ? 'year' : `${days} days`}
            </option>
          ))}
          <option value="own">from … to …</option>
        </select>
      </label>
      {isOwn && (
        <span className="flex items-center gap-1">
          <DateInput
            label="From"
            value={filter.since}
            max={filter.until}
            onChange={(since) => change({ since })}
          />
          to
          <DateInput
            label="To, that day included"
            value={filter.until}
            min={filter.since}
            onChange={(until) => change({ until })}
          />
        </span>
      )}
    </>
  )
}

interface DateProps {
  label: string
  value: string
  min?: string
  max?: string
  onChange: (date: string) => void
}

function DateInput({ label, value, min, max, onChange }: DateProps): ReactNode {
  return (
    <input
      type="date"
      aria-label={label}
      className="input input-sm w-36 font-mono"
      value={value}
      min={min}
      max={max}
      onChange={(event) => event.target.value !== '' && onChange(event.target.value)}
    />
  )
}

interface WayProps {
  definition: Definition
  way: string
  onChange: (way: string) => void
}

/** Everybody, or those of one path or arm. */
function WayChoice({ definition, way, onChange }: WayProps): ReactNode {
  const branching = allSteps(definition.steps).filter(isBranching)
  if (branching.length === 0) return null
  return (
    <select
      className="select select-sm w-40"
      aria-label="Path or arm"
      value={way}
      onChange={(event) => onChange(event.target.value)}
    >
      <option value="">all paths</option>
      {branching.map((step) => (
        <optgroup
          key={step.key}
          label={step.kind === 'split' ? 'Split' : stepName(definition, step.key)}
        >
          {listsOf(step).map((list) => (
            <option key={list.branch} value={wayKey(step.key, list.branch)}>
              {wayName(step, list)}
            </option>
          ))}
        </optgroup>
      ))}
    </select>
  )
}

function OnTimetable({ filter, change }: TimeProps): ReactNode {
  return (
    <>
      <label className="flex items-center gap-2 whitespace-nowrap">
        on the timetable
        <select
          className="select select-sm w-32"
          value={filter.show}
          onChange={(event) => change({ show: event.target.value as ShownMeasure })}
        >
          {SHOWN_MEASURES.map((measure) => (
            <option key={measure} value={measure}>
              {shownMeasureLabel(measure)}
            </option>
          ))}
        </select>
      </label>
      <TickField
        className="whitespace-nowrap"
        checked={filter.before}
        onChange={(checked) => change({ before: checked })}
      >
        with the time before
      </TickField>
    </>
  )
}
