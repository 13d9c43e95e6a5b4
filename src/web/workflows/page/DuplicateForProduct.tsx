import { useMemo, useState, type ReactNode } from 'react'
import type { Definition } from '../../../core/workflow/definition.ts'
import { forProduct, productsIn, type Product } from '../../../core/workflow/forProduct.ts'
import { ChoiceField } from '../../ui/fields/fields.tsx'
import { useSettled } from '../../ui/hooks/useSettled.ts'
import { useProducts } from '../../ui/data/useProducts.ts'

interface Props {
  definition: Definition
  onCopy: (copy: Definition) => void
}

/** A copy of a workflow about one product that is about another one throughout. */
export function DuplicateForProduct({ definition, onCopy }: Props): ReactNode {
  const products = useProducts()
  const settled = useSettled(definition, null)
  const about = useMemo(() => (settled ? productsIn(settled, products) : []), [settled, products])
  const [fromId, setFrom] = useState<string | null>(null)
  const [toId, setTo] = useState<string | null>(null)
  const from = about.find(({ id }) => id === fromId) ?? about[0]
  if (!from) return null
  const others = products.filter(({ id }) => id !== from.id)
  const to = others.find(({ id }) => id === toId) ?? others[0]
  if (!to) return null
  return (
    <details className="mt-4">
      <summary className="cursor-pointer font-medium">Duplicate for another product</summary>
      <div className="mt-2">
        {about.length > 1 && (
          <ChoiceField
            label="In place of"
            value={from.id}
            choices={titlesOf(about)}
            onChange={setFrom}
          />
        )}
        <ChoiceField
          label={about.length > 1 ? 'stands' : `In place of “${from.title}” stands`}
          value={to.id}
          choices={titlesOf(others)}
          onChange={setTo}
        />
        <p className="mb-2 text-xs text-secondary">
          Its trigger, conditions, name and messages speak of “{to.title}” then. Look over the
          sentences: they were written for “{from.title}”.
        </p>
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => onCopy(renamed(forProduct(definition, from, to, products), definition))}
        >
          Make the copy
        </button>
      </div>
    </details>
  )
}

const titlesOf = (products: readonly Product[]): Record<string, string> =>
  Object.fromEntries(products.map(({ id, title }) => [id, title]))

/** A copy whose name does not say the product is called a copy. */
function renamed(copy: Definition, { name }: Definition): Definition {
  return copy.name === name ? { ...copy, name: `Copy of ${name}`.slice(0, 120) } : copy
}
