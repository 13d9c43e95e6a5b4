import {
  attachmentsOf,
  followToken,
  keepTargets,
  keepWayOut,
  keptBlocks,
  renderEmail,
  returnPathOf,
  rewriteHtml,
  targetOf,
  type MessageRow,
} from '../../../../backend/messages/index.ts'
import type { Transaction } from '../../../../backend/platform/db.ts'
import { trackingOf } from '../../../../core/blocks/tracking.ts'
import type { MessageInstruction } from '../../../../core/workflow/compile.ts'
import type { EmailStep } from '../../../../core/workflow/steps.ts'
import type { SendDeps } from '../context.ts'
import type { Prepare } from '../outgoing.ts'
import { staffOf } from './staff.ts'

/** An email, with what is followed of it and what goes with it. */
export const prepareEmail: Prepare<MessageInstruction & { step: EmailStep }> = async (
  deps,
  tx,
  outgoing,
  { blocksIf, step },
) => {
  const { shop, message, run, facts } = outgoing
  const unsubscribeUrl = message.marketing
    ? `${deps.publicUrl}/u/${await keepWayOut(tx, deps.linkSecret, { shopId: shop.id, customerId: run.customerId })}`
    : null
  const asked = { facts, enteredAt: run.enteredAt }
  const rendered = await renderEmail(step, facts, {
    brand: shop.brand,
    publicUrl: deps.publicUrl,
    unsubscribeUrl,
    // What is in a kept block asks for the place it is used in.
    holds: (block) => blocksIf.get(block.split('.')[0] ?? block)?.holds(asked) ?? true,
    keptOf: (ids) => keptBlocks(tx, shop.id, ids),
    productsOf: (block) => deps.recommender.recommend(tx, shop.id, block, facts),
    looksOf: () => deps.recommender.looks(tx, shop.id, facts.now),
  })
  const to = facts.customer.channels.email.address ?? ''
  const mail = {
    ...rendered,
    html: await followed(deps, tx, message, step, rendered.html, unsubscribeUrl),
    attachments: await attachmentsOf(tx, shop, step, facts),
    messageId: message.messageId,
    date: facts.now,
    from: step.sender,
    replyTo: step.replyTo ?? null,
    to: [to],
    copies: await staffOf(tx, shop, step.copies ?? [], step.groups),
    copiesShown: step.copiesShown ?? false,
    unsubscribeUrl,
    returnPath:
      deps.returnPath &&
      returnPathOf(deps.linkSecret, deps.returnPath, { shopId: shop.id, message: message.id }),
  }
  return { to, subject: rendered.subject, handOver: () => deps.mailer.send(mail) }
}

/** The HTML with what is followed of it; where its links lead is kept. */
async function followed(
  { publicUrl, linkSecret }: SendDeps,
  tx: Transaction,
  { shopId, id: message }: MessageRow,
  step: EmailStep,
  html: string | null,
  unsubscribeUrl: string | null,
): Promise<string | null> {
  if (html === null) return null
  const address = (kind: 'l' | 'o', target: string | null) =>
    `${publicUrl}/${kind}/${followToken(linkSecret, { shopId, message }, target)}`
  const addresses = {
    link: (url: string) => address('l', targetOf(url)),
    picture: address('o', null),
  }
  const except = unsubscribeUrl === null ? [] : [unsubscribeUrl]
  const rewritten = rewriteHtml(html, trackingOf(step), addresses, except)
  await keepTargets(tx, shopId, rewritten.urls)
  return rewritten.html
}
