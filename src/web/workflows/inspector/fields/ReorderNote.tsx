import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { useReorders } from '../../../ui/data/useReorders.ts'

const SHOWN = 3

/** What the expected reorder is, said where it is chosen as a date. */
export function ReorderNote(): ReactNode {
  const { data } = useReorders()
  const products = data?.rows.filter(({ kind }) => kind === 'product') ?? []
  return (
    <p className="mb-3 text-xs text-secondary">
      The day by which half of all repeats of the product have come; for who has bought it twice,
      their own rhythm counts. It is reckoned when they buy it, stays as it is, and goes when they
      buy it again.{' '}
      {products.length > 0 &&
        `For instance: ${products
          .slice(0, SHOWN)
          .map(({ name, interval }) => `${name} after ${interval.days} days`)
          .join(', ')}. `}
      {data && products.length === 0 && 'No product has enough repeats yet. '}
      <Link className="link" to="/reorders">
        See how sure it is
      </Link>
    </p>
  )
}
