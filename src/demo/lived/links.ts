import type { EntityFacts } from '../../core/events/facts.ts'
import type { MessageStep } from '../../core/workflow/steps.ts'

/** An address of its own, or the merge field of one with its fallback. */
const LINK = /\{\{\s*(order|checkout|basket|subscription)\.url[^}]*?default:\s*"(https?:[^"]+)"\s*\}\}|https?:\/\/[\w./-]*[\w/]/g // prettier-ignore

/** Where the links of a message lead for somebody, in their order, each once. */
export function linksOf(step: MessageStep, entity: EntityFacts): string[] {
  const written = JSON.stringify(step).replaceAll(String.raw`\"`, '"')
  const found = [...written.matchAll(LINK)].map(([whole, about, otherwise]) =>
    about === undefined ? whole : (ownUrl(about, entity) ?? otherwise ?? whole),
  )
  const tracking = written.includes('"kind":"tracking"') ? entity.order?.trackingUrl : null
  return [...new Set([...(tracking ? [tracking] : []), ...found])]
}

function ownUrl(
  about: string,
  { order, checkout, basket, subscription }: EntityFacts,
): string | null {
  if (about === 'order') return order && `https://combwright.example/orders/${order.number}`
  if (about === 'checkout') return checkout?.url ?? null
  return (about === 'basket' ? basket?.url : subscription?.url) ?? null
}
