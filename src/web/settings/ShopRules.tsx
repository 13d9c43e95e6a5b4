import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { shopRulesResponse, type ShopRules as Rules } from '../../contract/shopRules.ts'
import { durationWords } from '../../core/words/quantities.ts'
import { ClockInput } from '../ui/fields/ClockInput.tsx'
import { getJson, send } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { ChoiceField, Field } from '../ui/fields/fields.tsx'
import { Loading, Problem, ProblemList } from '../ui/states.tsx'
import { CapsField } from './CapsField.tsx'
import { HoldoutField } from './HoldoutField.tsx'
import { useChange } from '../ui/data/useChange.tsx'

const GAPS = ['PT12H', 'PT20H', 'PT24H', 'P2D', 'P3D', 'P7D'] as const

/** Message gap and quiet hours, which hold for marketing in all workflows. */
export function ShopRules(): ReactNode {
  const rules = useQuery({
    queryKey: ['shop-rules'],
    queryFn: () => getJson('/api/shop-rules', shopRulesResponse),
  })
  const save = useChange((body: Rules) => send('PUT', '/api/shop-rules', body), 'shop-rules')
  // What is on its way counts already: the next change is made of it.
  const shown = save.isPending ? save.variables : rules.data
  return (
    <section className="panel mb-4 p-4" aria-label="Marketing messages">
      <h2 className="text-base">Marketing messages</h2>
      <p className="mb-3 text-secondary">
        These hold in all workflows. Messages that belong to an order leave at any hour.
      </p>
      {rules.error && <Problem error={rules.error} retry={() => void rules.refetch()} />}
      {rules.isPending && <Loading what="the rules" />}
      {rules.data && shown && (
        <>
          <RulesForm rules={shown} onChange={(next) => save.mutate(next)} />
          {save.error && (
            <div role="alert" className="mb-3 text-accent">
              What is typed here is not saved. {save.error.message}
              <ProblemList error={save.error} />
            </div>
          )}
          {rules.data.holdoutSince !== null && (
            <p className="mb-2 text-xs text-secondary">
              Held out since <Time at={rules.data.holdoutSince} />: drawn by lot, they get no
              marketing from any workflow, and all that belongs to their orders. Another share draws
              anew.{' '}
              <Link className="link" to="/today">
                What it shows
              </Link>
            </p>
          )}
          {rules.data.hookSecret && (
            <p className="text-xs text-secondary">
              Hooks are signed with{' '}
              <code className="font-mono break-all">{rules.data.hookSecret}</code>
            </p>
          )}
        </>
      )}
    </section>
  )
}

function RulesForm({ rules, onChange }: { rules: Rules; onChange: (rules: Rules) => void }) {
  const {
    messageGap,
    quietHours,
    backOfficeUrl,
    orderPageUrl,
    holdoutPercent = null,
    holdoutAmong = null,
  } = rules
  const gap = messageGap ?? 'none'
  const setHours = (hours: Rules['quietHours']) => onChange({ ...rules, quietHours: hours })
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <ChoiceField
        label="Least time between two, to one person"
        value={gap}
        choices={gapChoices(messageGap)}
        onChange={(next) => onChange({ ...rules, messageGap: next === 'none' ? null : next })}
      />
      <HoldoutField
        percent={holdoutPercent}
        among={holdoutAmong}
        onChange={({ percent, among }) =>
          onChange({ ...rules, holdoutPercent: percent, holdoutAmong: among })
        }
      />
      <Field label="Quiet hours where the recipient lives">
        {(id) => (
          <span className="flex items-center gap-2">
            <input
              id={id}
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={quietHours !== null}
              onChange={(event) =>
                setHours(event.target.checked ? { from: '21:00', to: '08:00' } : null)
              }
            />
            {quietHours && (
              <>
                <ClockInput
                  label="From"
                  value={quietHours.from}
                  onChange={(from) => setHours({ ...quietHours, from })}
                />
                <span>to</span>
                <ClockInput
                  label="To"
                  value={quietHours.to}
                  onChange={(to) => setHours({ ...quietHours, to })}
                />
              </>
            )}
          </span>
        )}
      </Field>
      <CapsField caps={rules.caps ?? []} onChange={(caps) => onChange({ ...rules, caps })} />
      <PageField
        label="Where customers look at their order, for links in messages"
        placeholder="https://shop.example/orders/{number}"
        value={orderPageUrl ?? null}
        onChange={(url) => onChange({ ...rules, orderPageUrl: url })}
      />
      <PageField
        label="Where staff look at an order, for links in notes"
        placeholder="https://admin.shop.example/orders/{id}"
        value={backOfficeUrl ?? null}
        onChange={(url) => onChange({ ...rules, backOfficeUrl: url })}
      />
    </div>
  )
}

interface PageProps {
  label: string
  placeholder: string
  value: string | null
  onChange: (url: string | null) => void
}

/** The address of a page for each order. */
function PageField({ label, placeholder, value, onChange }: PageProps): ReactNode {
  return (
    <Field label={label}>
      {(id) => (
        <input
          id={id}
          className="input input-sm w-full"
          placeholder={placeholder}
          defaultValue={value ?? ''}
          onBlur={(event) => {
            const url = event.target.value.trim()
            if (url !== (value ?? '')) onChange(url === '' ? null : url)
          }}
        />
      )}
    </Field>
  )
}

function gapChoices(current: string | null): Record<string, string> {
  const gaps = new Set([...GAPS, ...(current === null ? [] : [current])])
  return {
    none: 'no limit',
    ...Object.fromEntries([...gaps].map((gap) => [gap, durationWords(gap)])),
  }
}
