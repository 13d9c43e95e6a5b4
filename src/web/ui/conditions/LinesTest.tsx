import { Plus } from 'lucide-react'
import type { ReactNode } from 'react'
import type { LinesCondition } from '../../../core/conditions/condition.ts'
import { CONTENTS_WORDS } from '../../../core/words/conditions.ts'
import { ChoiceField } from '../fields/fields.tsx'
import type { InnerEditor } from './HistoryTest.tsx'
import { aCategory, LINE_SCOPE } from './scope.ts'

const ON = { subject: 'what is in it', orders: 'all they ever ordered' } as const

interface Props {
  value: LinesCondition
  onChange: (condition: LinesCondition) => void
  Inner: InnerEditor
}

/** "Contains", "contains only", "contains none of", "contains each of": four different things. */
export function LinesTest({ value, onChange, Inner }: Props): ReactNode {
  const set = (of: LinesCondition['of']) => onChange({ ...value, of })
  return (
    <div className="flex flex-col gap-2">
      <ChoiceField
        hideLabel
        label="Of what"
        value={value.on}
        choices={ON}
        onChange={(on) => onChange({ ...value, on })}
      />
      <ChoiceField
        hideLabel
        label="How it contains"
        value={value.how}
        choices={CONTENTS_WORDS}
        onChange={(how) => onChange({ ...value, how })}
      />
      {value.of.map((one, index) => (
        <Inner
          // The tests have no identity but their place.
          key={index}
          scope={LINE_SCOPE}
          value={one}
          onChange={(condition) => set(value.of.with(index, condition))}
          {...(value.of.length > 1 && {
            onRemove: () => set(value.of.filter((_, other) => other !== index)),
          })}
        />
      ))}
      <button
        type="button"
        className="btn btn-ghost btn-xs self-start"
        onClick={() => set([...value.of, aCategory()])}
      >
        <Plus size={12} aria-hidden="true" /> {value.how === 'both' ? 'and also' : 'or'} …
      </button>
    </div>
  )
}
