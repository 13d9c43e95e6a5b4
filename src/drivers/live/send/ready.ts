import type { Transaction } from '../../../backend/platform/db.ts'
import type { MessageChannel } from '../../../core/channels/catalogue.ts'
import type { Instruction, MessageInstruction } from '../../../core/workflow/compile.ts'
import type { MessageStep } from '../../../core/workflow/steps.ts'
import { prepareEmail } from './channels/email.ts'
import { prepareHook } from './channels/hook.ts'
import { prepareNote } from './channels/note.ts'
import { prepareSms } from './channels/sms.ts'
import type { SendDeps } from './context.ts'
import type { Outgoing, Prepare, Ready } from './outgoing.ts'

type Of<Kind extends MessageChannel> = MessageInstruction & {
  step: Extract<MessageStep, { kind: Kind }>
}

/** How a message of each channel is made ready. */
const PREPARE: { readonly [Kind in MessageChannel]: Prepare<Of<Kind>> } = {
  email: prepareEmail,
  sms: prepareSms,
  note: prepareNote,
}

/** Renders what is to go out. Throws RenderError, or RangeError when there is nothing at the step. */
export async function makeReady(
  deps: SendDeps,
  tx: Transaction,
  { instruction, ...outgoing }: Outgoing & { instruction: Instruction | undefined },
): Promise<Ready> {
  if (instruction?.kind === 'action' && instruction.step.kind === 'hook') {
    return prepareHook(deps, tx, outgoing, instruction.step)
  }
  if (instruction?.kind !== 'message') {
    throw new RangeError(`There is nothing to send at step ${outgoing.message.step}`)
  }
  // The lookup is by the kind of the very step that is passed on.
  const prepare = PREPARE[instruction.step.kind] as Prepare<MessageInstruction>
  return prepare(deps, tx, outgoing, instruction)
}
