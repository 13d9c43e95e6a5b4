import { Plus, X } from 'lucide-react'
import type { ReactNode } from 'react'
import type { CounterProduct } from '../../../contract/counter.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { ChoiceField } from '../../ui/fields/fields.tsx'
import { lineOf } from './firstSubject.ts'

type Line = Subject['lines'][number]

interface Props {
  lines: readonly Line[]
  products: readonly CounterProduct[]
  onChange: (lines: Line[]) => void
}

const MOST_LINES = 20

/** What is ordered, left behind, or whatever the workflow is about. */
export function Lines({ lines, products, onChange }: Props): ReactNode {
  const change = (place: number, to: Line) => onChange(lines.map((one, index) => (index === place ? to : one))) // prettier-ignore
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="mb-1 text-xs text-secondary">What it is about</legend>
      {lines.map((line, place) => (
        // Lines have nothing but their place to be told apart by: the same thing may stand twice.
        <div key={place} className="flex items-center gap-2">
          <input
            type="number"
            aria-label={`Pieces of ${line.title}`}
            min={1}
            max={1000}
            className="input input-sm w-16 font-mono"
            value={line.quantity}
            onChange={(event) => {
              const quantity = Math.trunc(event.target.valueAsNumber)
              if (quantity >= 1 && quantity <= 1000) change(place, { ...line, quantity })
            }}
          />
          <span className="min-w-0 grow">
            <ChoiceField
              label={place === 0 ? 'Product' : `Product ${place + 1}`}
              hideLabel
              value={line.productId}
              choices={choicesWith(products, line)}
              onChange={(id) => change(place, { ...lineOf(products.find((one) => one.id === id)), quantity: line.quantity })} // prettier-ignore
            />
          </span>
          {lines.length > 1 && (
            <button
              type="button"
              className="btn btn-ghost btn-square btn-sm"
              aria-label={`Take out ${line.title}`}
              onClick={() => onChange(lines.filter((_, index) => index !== place))}
            >
              <X size={14} aria-hidden="true" />
            </button>
          )}
        </div>
      ))}
      {lines.length < MOST_LINES && (
        <button
          type="button"
          className="btn btn-ghost btn-sm self-start"
          onClick={() => onChange([...lines, lineOf(products[0])])}
        >
          <Plus size={12} aria-hidden="true" /> Another thing
        </button>
      )}
    </fieldset>
  )
}

/** The shop's products, and what stands there though the shop no longer has it. */
function choicesWith(products: readonly CounterProduct[], line: Line): Record<string, string> {
  const choices = Object.fromEntries(products.map(({ id, title }) => [id, title]))
  return line.productId in choices ? choices : { [line.productId]: line.title, ...choices }
}
