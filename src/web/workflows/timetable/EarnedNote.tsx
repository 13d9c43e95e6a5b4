import type { ReactNode } from 'react'
import type { Earned } from '../../../contract/workflows.ts'
import { formatMoney, shortMoney } from '../../../core/shared/money.ts'
import { plural } from '../../../core/words/quantities.ts'
import { useShop } from '../../ui/data/shop.tsx'

/** What a stop or a path has earned; nothing where no order counts for it. */
export function EarnedNote({
  earned,
  lead = '',
}: {
  earned: Earned | undefined
  /** What parts it from what stands before it. */
  lead?: string
}): ReactNode {
  const { currency, locale } = useShop()
  if (!earned || earned.orders === 0) return null
  const money = { amountMinor: earned.revenueMinor, currency }
  const exact = `${formatMoney(money, locale)} from ${plural(earned.orders, 'order')} within seven days after the last message before it`
  return (
    <span title={exact}>
      {lead}
      {shortMoney(money, locale)}
    </span>
  )
}
