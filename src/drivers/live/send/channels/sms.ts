import {
  renderSms,
  shortLink,
  urlsIn,
  withShortLinks,
  type MessageRow,
} from '../../../../backend/messages/index.ts'
import type { Transaction } from '../../../../backend/platform/db.ts'
import type { MessageInstruction } from '../../../../core/workflow/compile.ts'
import type { SmsStep } from '../../../../core/workflow/steps.ts'
import type { SendDeps } from '../context.ts'
import type { Prepare } from '../outgoing.ts'

/** A text message, with short links. */
export const prepareSms: Prepare<MessageInstruction & { step: SmsStep }> = async (
  deps,
  tx,
  { message, facts },
  { step },
) => {
  const rendered = renderSms(step, facts)
  const text = step.longLinks ? rendered : await shortened(deps, tx, message, rendered)
  const to = facts.customer.channels.sms.address ?? ''
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
