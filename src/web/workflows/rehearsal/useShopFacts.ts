import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { mayBuild } from '../../../contract/roles.ts'
import { shopRulesResponse } from '../../../contract/shopRules.ts'
import type { ShopFacts } from '../../../core/events/facts.ts'
import { getJson } from '../../ui/data/api.ts'
import { useSession } from '../../ui/data/shop.tsx'

/** The shop as its rules are, but for the holdout: who is made up is never held out. Only marketers may know the rules. */
export function useShopFacts(): { facts: ShopFacts | undefined; error: Error | null } {
  const { user, shop } = useSession()
  const { data, error } = useQuery({
    queryKey: ['shop-rules'],
    queryFn: () => getJson('/api/shop-rules', shopRulesResponse),
    enabled: mayBuild(user.role),
  })
  const facts = useMemo(() => {
    if (!data) return undefined
    const { name, zone, currency, locale } = shop
    const { messageGap, caps = [], quietHours, backOfficeUrl = null, orderPageUrl = null } = data
    return {
      name,
      zone,
      currency,
      locale,
      messageGap,
      caps,
      quietHours,
      backOfficeUrl,
      orderPageUrl,
      holdout: null,
    }
  }, [shop, data])
  return { facts, error }
}
