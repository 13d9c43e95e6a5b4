import { memo, type ReactNode } from 'react'
import { conditionWords } from '../../../core/words/conditions.ts'
import { durationWords } from '../../../core/words/quantities.ts'
import { triggerWords } from '../../../core/words/triggers.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { Selection } from '../selection.ts'
import { isCounted, type ShownNumbers } from '../numbers/shownNumbers.ts'
import { useWords } from '../../ui/data/words.tsx'

type Rules = Pick<Definition, 'trigger' | 'entry' | 'exclusions' | 'priority'>

interface Props extends Rules {
  numbers: ShownNumbers | undefined
  /** How many entered, in words. */
  entered: string | undefined
  /** What kind of thing is selected. */
  selected: Selection['kind']
  onSelect: (selection: Selection) => void
}

/** The rules that stand over the whole timetable: start, entry, exclusions. */
export const RuleStrips = memo(function RuleStrips(props: Props): ReactNode {
  const { trigger, entry, exclusions, priority, numbers, entered, selected, onSelect } = props
  const words = useWords()
  const leftBy = new Map(numbers?.exclusions.map(({ exclusion, left }) => [exclusion, left]))
  const strip = (kind: 'trigger' | 'entry' | 'exclusions') => ({
    selected: selected === kind,
    onClick: () => onSelect({ kind }),
  })
  return (
    <div className="panel print:hidden col-span-full grid grid-cols-[fit-content(36%)_fit-content(30%)_minmax(0,1fr)] max-sm:grid-cols-1">
      <Strip title="Starts when" note={entered} {...strip('trigger')}>
        <span className="chip font-medium">{triggerWords(unfiltered(trigger), words)}</span>
        {trigger.filter && <span className="chip">{conditionWords(trigger.filter, words)}</span>}
      </Strip>
      <Strip title="Entry" {...strip('entry')}>
        <span className="chip">{entryWords(entry)}</span>
        {entry.overlap === 'one' && <span className="chip">one run at a time</span>}
        <span className="chip">
          priority <span className="font-mono">{priority}</span>
        </span>
      </Strip>
      <Strip
        title="Leaves before any message if"
        note="checked again at every stop"
        {...strip('exclusions')}
      >
        {exclusions.length === 0 && (
          <span className="text-xs text-secondary">nothing: everyone gets every message</span>
        )}
        {exclusions.map(({ key, when, effect }) => (
          <span key={key} className="chip">
            {effect === 'skip' && <em>skips a step:</em>}
            {conditionWords(when, words)}
            {numbers && leftBy.has(key) && isCounted(numbers, key) && (
              <span className="font-mono text-accent">−{leftBy.get(key)}</span>
            )}
          </span>
        ))}
      </Strip>
    </div>
  )
})

/** The trigger without its filter, which stands on a chip of its own. */
function unfiltered({ filter: _filter, ...trigger }: Definition['trigger']): Definition['trigger'] {
  return trigger
}

function entryWords({ rule }: Rules['entry']): string {
  if (rule.kind === 'every') return 'every time'
  if (rule.kind === 'once') return 'once ever'
  return `again after ${durationWords(rule.duration)}`
}

interface StripProps {
  title: string
  note?: string | undefined
  selected: boolean
  onClick: () => void
  children: ReactNode
}

function Strip({ title, note, selected, onClick, children }: StripProps): ReactNode {
  return (
    <button
      type="button"
      aria-pressed={selected}
      data-rule=""
      onClick={onClick}
      className={`flex flex-col border-l border-base-300 px-3 py-2 text-left first:border-l-0 first:rounded-l-box last:rounded-r-box max-sm:border-t max-sm:border-l-0 hover:bg-base-200 ${selected ? 'bg-base-200' : ''}`}
    >
      <span className="mb-1.5 flex w-full justify-between gap-4 text-xs text-secondary">
        <span>{title}</span>
        {note && <span>{note}</span>}
      </span>
      <span className="flex flex-wrap gap-1.5">{children}</span>
    </button>
  )
}
