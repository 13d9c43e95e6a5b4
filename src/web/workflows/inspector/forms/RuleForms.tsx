import { Plus, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { lastMoment } from '../../../../core/timetable/momentOf.ts'
import type { Definition, EntryRule, Exclusion } from '../../../../core/workflow/definition.ts'
import { freshKey } from '../../../../core/workflow/edit.ts'
import { AreaField, ChoiceField, NumberField, TextField } from '../../../ui/fields/fields.tsx'
import { firstExclusion } from '../../newSteps.ts'
import { HeldCount } from '../fields/HeldCount.tsx'
import { ConditionEditor } from '../../../ui/conditions/ConditionEditor.tsx'
import { DurationField } from '../fields/DurationField.tsx'
import type { FormProps } from '../formProps.ts'
import { LabelsField } from '../fields/LabelsField.tsx'

export function WorkflowForm({ definition, onChange }: FormProps): ReactNode {
  return (
    <>
      <h2 className="mb-3 text-base">Workflow</h2>
      <TextField
        label="Name"
        value={definition.name}
        onChange={(name) => onChange({ ...definition, name }, 'name')}
      />
      <AreaField
        label="What it is for, for colleagues"
        rows={4}
        value={definition.description}
        onChange={(description) => onChange({ ...definition, description }, 'description')}
      />
      <LabelsField
        value={definition.labels ?? []}
        onChange={(labels) => onChange(withLabels(definition, labels))}
      />
      <p className="text-xs text-secondary">
        Select a rule above or anything on the timetable to change it. A “+” on a line adds a step
        there.
      </p>
    </>
  )
}

/** A document without labels has none, rather than an empty list of them. */
function withLabels(definition: Definition, labels: string[]): Definition {
  const { labels: _labels, ...rest } = definition
  return labels.length === 0 ? rest : { ...rest, labels: labels.slice(0, 10) }
}

const RULES = { every: 'every time', once: 'once ever', after: 'again after a while' } as const
const OVERLAPS = { allow: 'may be in it several times at once', one: 'one run at a time' } as const

export function EntryForm({ definition, onChange }: FormProps): ReactNode {
  const { entry } = definition
  const setRule = (rule: EntryRule) =>
    onChange({ ...definition, entry: { ...entry, rule } }, 'entry')
  return (
    <>
      <h2 className="mb-3 text-base">Entry</h2>
      <ChoiceField
        label="How often one person may enter"
        value={entry.rule.kind}
        choices={RULES}
        onChange={(kind) => setRule(kind === 'after' ? { kind, duration: 'P30D' } : { kind })}
      />
      {entry.rule.kind === 'after' && (
        <DurationField
          label="After the last entry"
          value={entry.rule.duration}
          onChange={(duration) => setRule({ kind: 'after', duration })}
        />
      )}
      <ChoiceField
        label="While someone is in it"
        value={entry.overlap}
        choices={OVERLAPS}
        onChange={(overlap) => onChange({ ...definition, entry: { ...entry, overlap } })}
      />
      <NumberField
        label="Priority, 0 to 100: higher goes first where workflows share a trigger"
        value={definition.priority}
        min={0}
        max={100}
        onChange={(priority) => onChange({ ...definition, priority }, 'priority')}
      />
    </>
  )
}

const EFFECTS = { leave: 'leaves the workflow', skip: 'skips that step and goes on' } as const

export function ExclusionsForm({ definition, onChange }: FormProps): ReactNode {
  const { exclusions } = definition
  const set = (next: Exclusion[], touching?: string) =>
    onChange({ ...definition, exclusions: next }, touching)
  const replace = (changed: Exclusion) =>
    set(
      exclusions.map((one) => (one.key === changed.key ? changed : one)),
      `exclusion ${changed.key}`,
    )
  return (
    <>
      <h2 className="mb-1 text-base">Never if</h2>
      <p className="mb-3 text-xs text-secondary">
        Asked again before every message, coupon and hook, with the facts of that moment.
      </p>
      {exclusions.map((exclusion, index) => (
        <section
          key={exclusion.key}
          className="mb-4 border-b border-base-300 pb-3"
          aria-label={`Exclusion ${index + 1}`}
        >
          <div className="flex items-center gap-2">
            <ChoiceField
              label={`Exclusion ${index + 1}: the person`}
              hideLabel
              value={exclusion.effect}
              choices={EFFECTS}
              onChange={(effect) => replace({ ...exclusion, effect })}
            />
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Remove exclusion ${index + 1}`}
              onClick={() => set(exclusions.filter((one) => one !== exclusion))}
            >
              <Trash2 size={14} />
            </button>
          </div>
          <p className="my-1 text-xs text-secondary">if</p>
          <ConditionEditor
            value={exclusion.when}
            onChange={(when) => replace({ ...exclusion, when })}
          />
          <HeldCount
            trigger={definition.trigger}
            condition={exclusion.when}
            afterMs={lastMoment(definition)}
            said="By the last moment of the workflow it would have held"
          />
        </section>
      ))}
      <button
        type="button"
        className="btn btn-sm"
        onClick={() =>
          set([
            ...exclusions,
            {
              key: freshKey(definition, 'exclusion'),
              when: firstExclusion(definition),
              effect: 'leave',
            },
          ])
        }
      >
        <Plus size={14} aria-hidden="true" /> Add exclusion
      </button>
    </>
  )
}
