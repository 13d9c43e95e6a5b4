import { ClipboardCopy, Download, Printer } from 'lucide-react'
import { useMemo, useRef, useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { outlineOf, outlineText, type OutlineLine } from '../../../core/words/outline.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { AddHere } from '../editing/AddHere.tsx'
import { EditingFrame, itemProps } from '../editing/EditingFrame.tsx'
import { placeAfter, type Editing } from '../editing/useEditing.ts'
import type { Selection } from '../selection.ts'
import { STEP_LOOKS } from '../stepLooks.ts'
import { useWords } from '../../ui/data/words.tsx'

interface Props {
  definition: Definition
  selection: Selection
  onSelect: (selection: Selection) => void
  editing: Editing | undefined
}

/** The workflow in plain language: to read, to print, and to edit by keyboard. */
export function OutlineView({ definition, selection, onSelect, editing }: Props): ReactNode {
  const words = useWords()
  const lines = useMemo(() => outlineOf(definition, words), [definition, words])
  const frame = useRef<HTMLDivElement>(null)
  const ids = lines.flatMap(({ place }) => (place ? idOf(place) : []))
  const neighbour = (id: string, arrow: string): string | null => {
    const by = arrow === 'ArrowDown' ? 1 : arrow === 'ArrowUp' ? -1 : 0
    return by === 0 ? null : (ids[ids.indexOf(id) + by] ?? null)
  }
  return (
    <section className="panel flex min-h-0 flex-1 flex-col print:border-0" aria-label="Outline">
      <Exports text={() => outlineText(definition, words)} name={definition.name} />
      <EditingFrame
        label="Lines of the outline"
        frame={frame}
        className="min-h-0 flex-1 overflow-y-auto px-4 pb-4 print:overflow-visible"
        editing={editing}
        neighbour={neighbour}
        before={(id) => neighbour(id, 'ArrowUp')}
      >
        <h2 className="mb-1 hidden text-lg print:block">{definition.name}</h2>
        <p className="mb-2 hidden text-secondary print:block">{definition.description}</p>
        <ol>
          {lines.map((line, index) => (
            <Line
              key={line.place ? idOf(line.place) : `goes-on ${index}`}
              line={line}
              definition={definition}
              selection={selection}
              onSelect={onSelect}
              editing={editing}
            />
          ))}
        </ol>
      </EditingFrame>
    </section>
  )
}

type LinePlace = NonNullable<OutlineLine['place']>

const idOf = (place: LinePlace): string => {
  if (place.kind === 'step') return `line:${place.key}`
  return place.kind === 'branch' ? `line:${place.branching}:${place.branch}` : `line:${place.kind}`
}

interface LineProps extends Props {
  line: OutlineLine
}

function Line({ line, definition, selection, onSelect, editing }: LineProps): ReactNode {
  const { depth, text, place } = line
  const [open, setOpen] = useState(false)
  const style = { paddingLeft: depth * 24 }
  if (!place) {
    return (
      <li className="py-1 text-secondary italic" style={style}>
        <span className="ml-7">{text}</span>
      </li>
    )
  }
  const isSelected = JSON.stringify(place) === JSON.stringify(selection)
  const canAdd = place.kind === 'step' || place.kind === 'branch' || place.kind === 'trigger'
  return (
    <li className="group relative flex items-start gap-1 py-0.5" style={style}>
      <button
        type="button"
        {...itemProps(idOf(place), place)}
        aria-pressed={isSelected}
        className={`flex flex-1 items-baseline gap-2 rounded-field px-2 py-1 text-left hover:bg-base-200 ${isSelected ? 'bg-base-200 outline-2 outline-accent' : ''} ${place.kind === 'branch' ? 'font-medium' : ''}`}
        onClick={() => onSelect(place)}
      >
        <LineIcon place={place} definition={definition} />
        <span>{text}</span>
      </button>
      {editing && canAdd && (
        <span
          className={`relative mt-1.5 print:hidden ${open ? 'z-30' : 'opacity-0 group-focus-within:opacity-100 group-hover:opacity-100'}`}
        >
          <AddHere
            place={placeAfter(definition, place)}
            label={`Add after: ${text}`}
            after={idOf(place)}
            onInsert={editing.insert}
            onOpen={setOpen}
          />
        </span>
      )}
    </li>
  )
}

function LineIcon({ place, definition }: { place: LinePlace; definition: Definition }): ReactNode {
  const kind =
    place.kind === 'step'
      ? allSteps(definition.steps).find(({ key }) => key === place.key)?.kind
      : undefined
  return (
    <span className="w-4 shrink-0 translate-y-0.5 text-secondary" aria-hidden="true">
      {kind && <StepIcon kind={kind} />}
    </span>
  )
}

function StepIcon({ kind }: { kind: StepKind }): ReactNode {
  const { icon: Icon } = STEP_LOOKS[kind]
  return <Icon size={14} />
}

function Exports({ text, name }: { text: () => string; name: string }): ReactNode {
  return (
    <div className="flex flex-wrap items-center gap-1 px-4 py-2 print:hidden">
      <h2 className="mr-auto text-xs max-sm:w-full text-secondary">
        The same workflow in plain language
      </h2>
      <button
        type="button"
        className="btn btn-ghost btn-xs"
        onClick={() => {
          navigator.clipboard.writeText(text()).then(
            () => toast.success('Copied the outline as text.'),
            () => toast.error('This browser does not let pages copy. Save it as text instead.'),
          )
        }}
      >
        <ClipboardCopy size={13} aria-hidden="true" /> Copy as text
      </button>
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => saveText(name, text())}>
        <Download size={13} aria-hidden="true" /> Save as text
      </button>
      <button type="button" className="btn btn-ghost btn-xs" onClick={() => window.print()}>
        <Printer size={13} aria-hidden="true" /> Print
      </button>
    </div>
  )
}

function saveText(name: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: 'text/plain;charset=utf-8' }))
  const link = document.createElement('a')
  link.href = url
  link.download = `${name.replaceAll(/[^\p{L}\p{N}]+/gu, '-') || 'workflow'}.txt`
  link.click()
  URL.revokeObjectURL(url)
}
