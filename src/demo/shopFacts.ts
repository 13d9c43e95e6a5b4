import type { ShopFacts } from '../core/events/facts.ts'
import { ZONE } from './history.ts'

/** The demo shop’s rules, as its workflows go by them; nobody is held out of somebody made up. */
export const DEMO_FACTS: ShopFacts = {
  name: 'Combwright',
  zone: ZONE,
  currency: 'EUR',
  locale: 'en-IE',
  messageGap: 'PT20H',
  quietHours: { from: '21:00', to: '08:00' },
  holdout: null,
  backOfficeUrl: 'https://admin.combwright.example/orders/{id}',
  orderPageUrl: 'https://combwright.example/orders/{number}',
}
