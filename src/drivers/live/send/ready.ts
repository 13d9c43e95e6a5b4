import { eq, sql } from 'drizzle-orm'
import { groupsOf } from '../../../backend/addresses/index.ts'
import { newHookSecret } from '../../../backend/hooks/index.ts'
import {
  attachmentsOf,
  followToken,
  keepWayOut,
  keepTargets,
  renderEmail,
  renderNote,
  renderSms,
  RenderError,
  rewriteHtml,
  keptBlocks,
  shortLink,
  targetOf,
  urlsIn,
  withShortLinks,
} from '../../../backend/messages/index.ts'
import type { Transaction } from '../../../backend/platform/db.ts'
import type { HandOver } from '../../../backend/platform/handOver.ts'
import type { Shop } from '../../../backend/shop/index.ts'
import { shops } from '../../../backend/shop/tables.ts'
import { addressesOf } from '../../../core/check/addressFindings.ts'
import type { Facts } from '../../../core/events/facts.ts'
import { trackingOf } from '../../../core/messages/tracking.ts'
import { formatInstant } from '../../../core/shared/time.ts'
import type { Instruction, MessageInstruction } from '../../../core/workflow/compile.ts'
import type { EmailStep, HookStep, NoteStep, SmsStep } from '../../../core/workflow/steps.ts'
import type { KeptRun } from '../../../backend/runs/index.ts'
import type { MessageRow } from '../../../backend/messages/index.ts'
import type { SendDeps } from './context.ts'

/** Something rendered that only has to be handed over. */
export interface Ready {
  to: string
  subject: string
  handOver: () => Promise<HandOver>
}

interface Outgoing {
  shop: Shop
  message: MessageRow
  run: KeptRun
  instruction: Instruction | undefined
  facts: Facts
}

/** Renders what is to go out. Throws RenderError, or RangeError when there is nothing at the step. */
export async function makeReady(
  deps: SendDeps,
  tx: Transaction,
  outgoing: Outgoing,
): Promise<Ready> {
  const { instruction } = outgoing
  if (instruction?.kind === 'action' && instruction.step.kind === 'hook') {
    return readyHook(deps, tx, outgoing, instruction.step)
  }
  if (instruction?.kind !== 'message') {
    throw new RangeError(`There is nothing to send at step ${outgoing.message.step}`)
  }
  const { step } = instruction
  if (step.kind === 'email') return readyEmail(deps, tx, outgoing, { ...instruction, step })
  return step.kind === 'sms'
    ? readySms(deps, tx, outgoing, step)
    : readyNote(deps, tx, outgoing, step)
}

async function readyEmail(
  deps: SendDeps,
  tx: Transaction,
  outgoing: Outgoing,
  { blocksIf, step }: MessageInstruction & { step: EmailStep },
): Promise<Ready> {
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
  })
  const to = facts.customer.email ?? ''
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

/** Addresses that stand by themselves, and those of groups as they are now. */
async function staffOf(
  tx: Transaction,
  shop: Shop,
  single: readonly string[],
  groups: readonly string[] | undefined,
): Promise<string[]> {
  return addressesOf(single, groups, groups ? await groupsOf(tx, shop.id, groups) : [])
}

async function readyNote(
  deps: SendDeps,
  tx: Transaction,
  { shop, message, facts }: Outgoing,
  step: NoteStep,
): Promise<Ready> {
  const rendered = renderNote(step, facts)
  const staff = await staffOf(tx, shop, step.to, step.groups)
  if (staff.length === 0) throw new RenderError('there is nobody in its groups of staff')
  const mail = {
    ...rendered,
    messageId: message.messageId,
    date: facts.now,
    from: shop.defaultSender,
    replyTo: null,
    to: staff,
    copies: [],
    unsubscribeUrl: null,
  }
  const to = staff.join(', ')
  return { to, subject: rendered.subject, handOver: () => deps.mailer.send(mail) }
}

async function readySms(
  deps: SendDeps,
  tx: Transaction,
  { message, facts }: Outgoing,
  step: SmsStep,
): Promise<Ready> {
  const rendered = renderSms(step, facts)
  const text = step.longLinks ? rendered : await shortened(deps, tx, message, rendered)
  const to = facts.customer.mobile ?? ''
  const sms = { id: message.messageId, to, text }
  return { to, subject: '', handOver: () => deps.sms.send(sms) }
}

/** A text with its links shortened, each for this message alone. */
async function shortened(
  { publicUrl }: SendDeps,
  tx: Transaction,
  { shopId, id: message }: MessageRow,
  text: string,
): Promise<string> {
  const short = new Map<string, string>()
  for (const url of urlsIn(text)) {
    short.set(url, `${publicUrl}/s/${await shortLink(tx, { shopId, message }, url)}`)
  }
  return withShortLinks(text, short)
}

async function readyHook(
  deps: SendDeps,
  tx: Transaction,
  { shop, message, run, facts }: Outgoing,
  { url, name }: HookStep,
): Promise<Ready> {
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
      customer: facts.customer,
      subject: facts.subject,
    },
  }
  // Standard Webhooks asks for an id without a full stop, which would end it in what is signed.
  const id = message.messageId.replaceAll(/[<>]/g, '').replaceAll('.', '-')
  return { to: url, subject: name, handOver: () => deps.hooks.call({ id, url, body, secret }) }
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
