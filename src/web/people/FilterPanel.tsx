import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { mayBuild } from '../../contract/roles.ts'
import { labelsResponse, type Segment } from '../../contract/people.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import { OptionalCondition } from '../ui/conditions/OptionalCondition.tsx'
import { PEOPLE_SCOPE, ScopeProvider } from '../ui/conditions/scope.ts'
import { getJson } from '../ui/data/api.ts'
import { useSession } from '../ui/data/shop.tsx'
import { KeepSegment } from './KeepSegment.tsx'

interface Props {
  segments: readonly Segment[]
  chosen: Segment | null
  condition: Condition | null
  onChoose: (id: string | null) => void
  onEdit: (condition: Condition | null) => void
  onKept: (id: string | null) => void
}

/** Whom the list is about: everybody, a segment, a list, a tag, or those for whom a condition holds. */
export function FilterPanel(props: Props): ReactNode {
  const { segments, chosen, condition, onChoose, onEdit, onKept } = props
  const mayEdit = mayBuild(useSession().user.role)
  const isEdited = JSON.stringify(condition) !== JSON.stringify(chosen?.condition ?? null)
  return (
    <aside className="panel flex w-80 shrink-0 flex-col gap-4 overflow-y-auto p-3 max-md:w-full" aria-label="Whom to show">
      <section aria-label="Segments">
        <h2 className="field-label">Segments</h2>
        <ul>
          <Choice name="Everybody" isOn={chosen === null && condition === null} onChoose={() => onChoose(null)} />
          {segments.map(({ id, name }) => (
            <Choice key={id} name={name} isOn={chosen?.id === id} onChoose={() => onChoose(id)} />
          ))}
        </ul>
      </section>
      <Labels kind="list" title="Lists" onEdit={onEdit} condition={condition} />
      <Labels kind="tag" title="Tags" onEdit={onEdit} condition={condition} />
      <ScopeProvider value={PEOPLE_SCOPE}>
        <OptionalCondition
          title="Those for whom it holds that"
          none="Everybody, without a condition."
          value={condition ?? undefined}
          onChange={(next) => onEdit(next ?? null)}
        />
      </ScopeProvider>
      {mayEdit && <KeepSegment chosen={chosen} condition={condition} isEdited={isEdited} onKept={onKept} />}
    </aside>
  )
} // prettier-ignore

interface ChoiceProps {
  name: string
  people?: number
  isOn: boolean
  onChoose: () => void
}

function Choice({ name, people, isOn, onChoose }: ChoiceProps): ReactNode {
  return (
    <li>
      <button
        type="button"
        aria-pressed={isOn}
        className={`flex w-full justify-between gap-2 rounded-field px-2 py-1 text-left hover:bg-base-200 ${isOn ? 'bg-base-200 font-medium' : ''}`}
        onClick={onChoose}
      >
        <span className="truncate">{name}</span>
        {people !== undefined && (
          <span className="font-mono text-xs text-secondary">{people.toLocaleString('en')}</span>
        )}
      </button>
    </li>
  )
}

interface LabelsProps {
  kind: 'list' | 'tag'
  title: string
  condition: Condition | null
  onEdit: (condition: Condition | null) => void
}

/** Who is on a list, or has a tag: a condition like any other, begun with one press. */
function Labels({ kind, title, condition, onEdit }: LabelsProps): ReactNode {
  const { data } = useQuery({
    queryKey: ['people', 'labels', kind],
    queryFn: () => getJson(`/api/labels?kind=${kind}`, labelsResponse),
  })
  if (!data || data.length === 0) return null
  const having = (name: string): Condition => ({ kind: 'field', field: `customer.${kind}s`, op: 'hasAny', value: [name] }) // prettier-ignore
  return (
    <section aria-label={title}>
      <h2 className="field-label">{title}</h2>
      <ul>
        {data.map(({ name, people }) => {
          const isOn = JSON.stringify(condition) === JSON.stringify(having(name))
          return (
            <Choice key={name} name={name} people={people} isOn={isOn} onChoose={() => onEdit(isOn ? null : having(name))} />
          )
        })}
      </ul>
    </section>
  )
} // prettier-ignore
