import { useQuery } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import type { ReactNode } from 'react'
import { trafficResponse, type TrafficResponse } from '../../../../contract/experiments.ts'
import { leastSeen, peopleNeeded, type Baseline } from '../../../../core/experiments/needed.ts'
import { inOrder } from '../../../../core/experiments/judge.ts'
import { DAY_MS } from '../../../../core/shared/duration.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import type { ExperimentStep } from '../../../../core/workflow/steps.ts'
import {
  TEST_MEASURES,
  USUAL_PLAN,
  type TestMeasure,
  type TestPlan,
} from '../../../../core/workflow/testPlan.ts'
import { lotWords } from '../../../../core/words/lot.ts'
import { peopleWords, plural } from '../../../../core/words/quantities.ts'
import {
  amountWords,
  dayOf,
  isYearsAway,
  TEST_MEASURE_WORDS,
} from '../../../../core/words/testWords.ts'
import { sendJson } from '../../../ui/data/api.ts'
import { useShop } from '../../../ui/data/shop.tsx'
import { ChoiceField, Field, NumberField } from '../../../ui/fields/fields.tsx'
import { useSettled } from '../../../ui/hooks/useSettled.ts'
import { MoneyInput } from '../../../ui/conditions/MoneyInput.tsx'

interface Props {
  definition: Definition
  step: ExperimentStep
  onChange: (plan: TestPlan | undefined) => void
}

const MEASURES = Object.fromEntries(
  TEST_MEASURES.map((measure) => [measure, TEST_MEASURE_WORDS[measure].label]),
) as Record<TestMeasure, string>

/** What an experiment is to find out, and what that takes: said before it begins. */
export function TestPlanForm({ definition, step, onChange }: Props): ReactNode {
  const { plan } = step
  if (!plan) {
    return (
      <button type="button" className="btn btn-sm mb-3" onClick={() => onChange(USUAL_PLAN)}>
        <Plus size={14} aria-hidden="true" /> Say what it is to find out
      </button>
    )
  }
  const change = (to: Partial<TestPlan>) => onChange({ ...plan, ...to })
  return (
    <fieldset className="mb-3 border-t border-base-300 pt-2">
      <legend className="sr-only">What it is to find out</legend>
      <ChoiceField
        label="Decided by"
        value={plan.measure}
        choices={MEASURES}
        onChange={(measure) => change({ measure, least: usualLeast(measure, plan) })}
      />
      <NumberField
        label="Days that count, from the draw"
        value={plan.windowDays}
        min={1}
        max={180}
        onChange={(windowDays) => change({ windowDays })}
      />
      <LeastField plan={plan} onChange={(least) => change({ least })} />
      <Needed definition={definition} step={step} plan={plan} />
      <button type="button" className="btn btn-sm" onClick={() => onChange(undefined)}>
        Without a plan
      </button>
    </fieldset>
  )
}

/** Points and money are no amounts of each other. */
const usualLeast = (measure: TestMeasure, plan: TestPlan): number => {
  const wasMoney = plan.measure === 'revenue'
  if (measure === 'revenue') return wasMoney ? plan.least : 100
  return wasMoney ? USUAL_PLAN.least : plan.least
}

function LeastField({
  plan,
  onChange,
}: {
  plan: TestPlan
  onChange: (least: number) => void
}): ReactNode {
  const { currency } = useShop()
  const label = 'The least difference worth knowing'
  if (plan.measure === 'revenue') {
    return (
      <Field label={`${label}, per person`}>
        {() => (
          <MoneyInput
            label={label}
            value={{ amountMinor: plan.least, currency }}
            onChange={({ amountMinor }) => amountMinor > 0 && onChange(amountMinor)}
          />
        )}
      </Field>
    )
  }
  return (
    <Field label={`${label}, in percentage points`}>
      {(id) => (
        <input
          id={id}
          type="number"
          className="input input-sm w-full font-mono"
          min={0.1}
          max={100}
          step={0.1}
          value={Number((plan.least * 100).toFixed(2))}
          onChange={(event) => {
            const points = Number(event.target.value)
            if (points > 0 && points <= 100) onChange(points / 100)
          }}
        />
      )}
    </Field>
  )
}

interface NeededProps {
  definition: Definition
  step: ExperimentStep
  plan: TestPlan
}

/** How many people it takes, and when they would be there, by what the last 90 days would have brought. */
function Needed({ definition, step, plan }: NeededProps): ReactNode {
  const shop = useShop()
  const asked = useSettled(definition, null, 600)
  const { data, isFetching, error } = useQuery({
    queryKey: ['test traffic', step.key, asked],
    queryFn: ({ signal }) =>
      sendJson('POST', '/api/experiments/traffic', trafficResponse, { definition: asked, step: step.key }, signal), // prettier-ignore
    enabled: asked !== null,
    placeholderData: (before) => before,
    retry: false,
  })
  if (error)
    return (
      <p className="my-2 text-xs text-secondary">
        What it takes cannot be worked out: {error.message}
      </p>
    )
  if (data === undefined)
    return <p className="my-2 text-xs text-secondary">Going through the last 90 days…</p>
  const words = data ? neededWords(data, step, plan, shop) : 'How long it takes cannot be told: nothing of the past would have started this workflow, or a condition is unfinished.' // prettier-ignore
  return (
    <p className={`my-2 text-xs ${isFetching ? 'text-secondary' : ''}`} role="status">
      {words}
    </p>
  )
}

type Shop = ReturnType<typeof useShop>

function neededWords(
  traffic: NonNullable<TrafficResponse>,
  step: ExperimentStep,
  plan: TestPlan,
  shop: Shop,
): string {
  const { now, since, people, watched } = traffic
  const context = { plan, now, ...shop }
  const days = Math.max(1, Math.round((now - since) / DAY_MS))
  const came = `In the last ${days} days ${peopleWords(people)} would have come to it`
  if (people === 0 || watched === 0) return `${came}: too few to plan by.`
  const weights = inOrder(step.arms.map(({ weight, holdout = false }) => ({ weight, holdout }))).map(({ weight }) => weight) // prettier-ignore
  const baseline = baselineFor(traffic, plan)
  const anyway =
    plan.measure === 'revenue'
      ? `they spent ${amountWords(baseline.mean, context)} each`
      : `${(baseline.mean * 100).toFixed(1)} % of them ${DID[plan.measure]}`
  const base = `${came}; ${anyway} within ${plural(plan.windowDays, 'day')}`
  const needed = peopleNeeded(plan, baseline, weights)
  if (needed === null) return `${base}. It cannot change by as much as that.`
  const at = now + Math.ceil((needed / people) * days + plan.windowDays) * DAY_MS
  const soon = isYearsAway(at, now) ? leastSeen(plan, baseline, weights, Math.max(0, ((90 - plan.windowDays) / days) * people)) : null // prettier-ignore
  const help = isYearsAway(at, now)
    ? ` That is a long time: fewer arms, another measure or a larger difference would help${soon === null ? '' : ` (three months would show one of ${amountWords(soon, context)})`}.`
    : ''
  return `${base}. To see a difference of ${amountWords(plan.least, context)} it takes ${needed.toLocaleString('en-IE')} people; at that traffic they have had their days on ${dayOf(at, context)}.${help} ${lotWords(traffic.oneIn)}`.trim()
}

const DID: Readonly<Record<Exclude<TestMeasure, 'revenue'>, string>> = {
  ordered: 'ordered',
  clicked: 'clicked',
  reviewed: 'left a review',
  unsubscribed: 'unsubscribed',
}

/** Of those who would have been drawn; nobody has clicked on what was never sent, so a usual share stands for that. */
const USUAL_CLICKS = 0.03

function baselineFor(traffic: NonNullable<TrafficResponse>, { measure }: TestPlan): Baseline {
  const { watched } = traffic
  if (measure === 'revenue') {
    const mean = traffic.revenueMinor / watched
    return { mean, variance: traffic.revenueSquares / watched - mean ** 2 }
  }
  const mean = measure === 'clicked' ? USUAL_CLICKS : traffic[measure] / watched
  return { mean, variance: mean * (1 - mean) }
}
