import { useId, useState, type ReactNode } from 'react'
import type { CounterProduct } from '../../../contract/counter.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { isZone } from '../../../core/shared/time.ts'
import { instantAt } from '../../../core/shared/localTime.ts'
import { formatInstant, localTime, parseInstant } from '../../../core/shared/time.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import type { ExperimentStep } from '../../../core/workflow/steps.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { ClockInput } from '../../ui/fields/ClockInput.tsx'
import { ChoiceField, Field, NumberField } from '../../ui/fields/fields.tsx'
import { TickField } from '../../ui/fields/TickField.tsx'
import { Lines } from './Lines.tsx'

interface Props {
  subject: Subject
  definition: Definition
  products: readonly CounterProduct[]
  onChange: (to: Partial<Subject>) => void
}

const CONSENT = { yes: 'yes', no: 'no', unknown: 'never asked' } as const
type Consent = keyof typeof CONSENT
const consentOf = (given: boolean | null): Consent =>
  given === null ? 'unknown' : given ? 'yes' : 'no'
const givenBy = (consent: Consent): boolean | null =>
  consent === 'unknown' ? null : consent === 'yes'

/** Who is made up: what they order, what they ordered before, where they live, what they agreed to. */
export function Who({ subject, definition, products, onChange }: Props): ReactNode {
  const { customer, earlier, lines } = subject
  const { trigger } = definition
  const setCustomer = (to: Partial<Subject['customer']>) => onChange({ customer: { ...customer, ...to } }) // prettier-ignore
  return (
    <section className="panel flex flex-col gap-3 p-4" aria-label="Who">
      <h2 className="text-base">Somebody made up</h2>
      <Beginning subject={subject} onChange={onChange} />
      <Lines lines={lines} products={products} onChange={(to) => onChange({ lines: to })} />
      {trigger.kind === 'event' && trigger.event === 'review.submitted' && (
        <ChoiceField
          label="Stars"
          value={String(subject.stars)}
          choices={STARS}
          onChange={(stars) => onChange({ stars: Number(stars) })}
        />
      )}
      {goesByDate(definition) && (
        <NumberField
          label="Days until the date it goes by"
          value={Math.round(subject.dateInDays)}
          min={0}
          max={400}
          onChange={(dateInDays) => onChange({ dateInDays })}
        />
      )}
      <ChoiceField
        label="Orders before"
        value={String(earlier.length)}
        choices={earlierChoices(earlier.length)}
        onChange={(count) => onChange({ earlier: earlierOrders(Number(count), lines) })}
      />
      <ZoneField zone={customer.zone} onChange={(zone) => setCustomer({ zone })} />
      <div className="grid grid-cols-2 gap-3">
        <ChoiceField
          label="Marketing by email"
          value={consentOf(customer.emailConsent)}
          choices={CONSENT}
          onChange={(consent) => setCustomer({ emailConsent: givenBy(consent) })}
        />
        <ChoiceField
          label="Marketing by text"
          value={consentOf(customer.smsConsent)}
          choices={CONSENT}
          onChange={(consent) => setCustomer({ smsConsent: givenBy(consent) })}
        />
      </div>
      <TickField
        checked={customer.hasEmail !== false}
        onChange={(hasEmail) => setCustomer({ hasEmail })}
      >
        has an email address
      </TickField>
      <TickField checked={customer.hasPhone} onChange={(hasPhone) => setCustomer({ hasPhone })}>
        has a phone number
      </TickField>
      <Arms subject={subject} definition={definition} onChange={onChange} />
    </section>
  )
}

/** A payment, an end, a class that is booked, a reorder: it starts by that, or waits for it. */
const goesByDate = ({ trigger, steps }: Definition): boolean =>
  trigger.kind === 'date' ||
  allSteps(steps).some((step) => step.kind === 'until' && step.until.kind === 'field')

/** For whom it is drawn: as the lottery has it, or as somebody wants to see it. */
function Arms({
  subject,
  definition,
  onChange,
}: Pick<Props, 'subject' | 'definition' | 'onChange'>): ReactNode {
  // prettier-ignore
  const { arms = {} } = subject
  const experiments = allSteps(definition.steps).filter((step): step is ExperimentStep => step.kind === 'experiment') // prettier-ignore
  return experiments.map((step) => (
    <ChoiceField
      key={step.key}
      label={`Drawn in “${step.name || 'the experiment'}”`}
      value={arms[step.key] ?? ''}
      choices={{ '': 'as the lottery has it', ...Object.fromEntries(step.arms.map(({ key, name }) => [key, name || 'Unnamed arm'])) }} // prettier-ignore
      onChange={(arm) => {
        const { [step.key]: _before, ...others } = arms
        onChange({ arms: arm === '' ? others : { ...others, [step.key]: arm } })
      }}
    />
  ))
}

const STARS = { 1: '1', 2: '2', 3: '3', 4: '4', 5: '5' } as const
const EARLIER: Readonly<Record<string, string>> = { 0: 'none: it is their first', 1: 'one', 2: 'two', 5: 'five' } // prettier-ignore

/** Who is like somebody real may have any number. */
const earlierChoices = (count: number): Record<string, string> => ({
  [count]: String(count),
  ...EARLIER,
})

/** One after the other, that far apart. */
const APART_DAYS = 60

const earlierOrders = (count: number, lines: Subject['lines']): Subject['earlier'] =>
  Array.from({ length: count }, (_, index) => ({ daysBefore: (index + 1) * APART_DAYS, lines }))

/** The day and hour at which it begins, where the shop is. */
function Beginning({ subject, onChange }: Pick<Props, 'subject' | 'onChange'>): ReactNode {
  const { zone } = useShop()
  const { year, month, day, hour, minute } = localTime(parseInstant(subject.at) ?? 0, zone)
  const two = (value: number) => String(value).padStart(2, '0')
  const date = `${year}-${two(month)}-${two(day)}`
  const time = `${two(hour)}:${two(minute)}`
  const set = (on: string, at: string) => onChange({ at: formatInstant(instantAt(on, at, zone)) })
  return (
    <Field label="It begins">
      {(id) => (
        <span className="flex gap-2">
          <input
            id={id}
            type="date"
            className="input input-sm w-36 font-mono"
            value={date}
            onChange={(event) => event.target.value !== '' && set(event.target.value, time)}
          />
          <ClockInput label="At" value={time} onChange={(at) => set(date, at)} />
        </span>
      )}
    </Field>
  )
}

interface ZoneProps {
  zone: string | null
  onChange: (zone: string | null) => void
}

/** Any zone there is, by its name. What is none yet is not passed on. */
function ZoneField({ zone, onChange }: ZoneProps): ReactNode {
  const list = useId()
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <Field label="Time zone; empty for the shop’s">
      {(id) => (
        <>
          <input
            id={id}
            list={list}
            className="input input-sm w-full"
            placeholder="Asia/Kathmandu"
            value={typed ?? zone ?? ''}
            onChange={(event) => {
              const name = event.target.value.trim()
              setTyped(event.target.value)
              if (name === '' || isZone(name)) onChange(name === '' ? null : name)
            }}
            onBlur={() => setTyped(null)}
          />
          <datalist id={list}>
            {Intl.supportedValuesOf('timeZone').map((one) => (
              <option key={one} value={one}>
                {one}
              </option>
            ))}
          </datalist>
        </>
      )}
    </Field>
  )
}
