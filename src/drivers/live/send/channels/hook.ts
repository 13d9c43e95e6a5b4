import { eq, sql } from 'drizzle-orm'
import { newHookSecret } from '../../../../backend/hooks/index.ts'
import type { Transaction } from '../../../../backend/platform/db.ts'
import { shops } from '../../../../backend/shop/tables.ts'
import type { CustomerFacts } from '../../../../core/events/facts.ts'
import { formatInstant } from '../../../../core/shared/time.ts'
import type { HookStep } from '../../../../core/workflow/steps.ts'
import type { Prepare } from '../outgoing.ts'

/** A call that tells another system that somebody has reached a step (Standard Webhooks). */
export const prepareHook: Prepare<HookStep> = async (
  deps,
  tx,
  { shop, message, run, facts },
  { url, name },
) => {
  const secret = shop.hookSecret ?? (await firstHookSecret(tx, shop.id))
  const body = {
    type: 'workflow.step_reached',
    timestamp: formatInstant(facts.now),
    data: {
      workflow: run.workflowId,
      version: run.version,
      step: message.step,
      name,
      run: run.id,
      customer: told(facts.customer),
      subject: facts.subject,
    },
  }
  // Standard Webhooks asks for an id without a full stop, which would end it in what is signed.
  const id = message.messageId.replaceAll(/[<>]/g, '').replaceAll('.', '-')
  return { to: url, subject: name, handOver: () => deps.hooks.call({ id, url, body, secret }) }
}

/** A customer as other systems are told of them. */
function told({ channels: { email, sms }, ...customer }: CustomerFacts) {
  const { consent: emailConsent, suppressed } = email
  const { consent: smsConsent, address: mobile } = sms
  return { ...customer, mobile, emailConsent, smsConsent, suppressed }
}

/** Makes the shop's signing secret the first time a hook is called. */
async function firstHookSecret(tx: Transaction, shopId: string): Promise<string> {
  const [row] = await tx
    .update(shops)
    .set({ hookSecret: sql`coalesce(${shops.hookSecret}, ${newHookSecret()})` })
    .where(eq(shops.id, shopId))
    .returning({ secret: shops.hookSecret })
  return row?.secret ?? ''
}
