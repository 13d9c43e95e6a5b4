import { renderNote, RenderError } from '../../../../backend/messages/index.ts'
import type { MessageInstruction } from '../../../../core/workflow/compile.ts'
import type { NoteStep } from '../../../../core/workflow/steps.ts'
import type { Prepare } from '../outgoing.ts'
import { staffOf } from './staff.ts'

/** A note to the shop's own people. */
export const prepareNote: Prepare<MessageInstruction & { step: NoteStep }> = async (
  deps,
  tx,
  { shop, message, facts },
  { step },
) => {
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
