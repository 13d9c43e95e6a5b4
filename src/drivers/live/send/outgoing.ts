import type { MessageRow } from '../../../backend/messages/index.ts'
import type { HandOver } from '../../../backend/platform/handOver.ts'
import type { Transaction } from '../../../backend/platform/db.ts'
import type { KeptRun } from '../../../backend/runs/index.ts'
import type { Shop } from '../../../backend/shop/index.ts'
import type { Facts } from '../../../core/events/facts.ts'
import type { SendDeps } from './context.ts'

/** Something rendered that only has to be handed over. */
export interface Ready {
  to: string
  subject: string
  handOver: () => Promise<HandOver>
}

/** What is to go out, with all that may stand in it. */
export interface Outgoing {
  shop: Shop
  message: MessageRow
  run: KeptRun
  facts: Facts
}

/** Makes what a step sends ready to be handed over. Throws RenderError. */
export type Prepare<Instruction> = (
  deps: SendDeps,
  tx: Transaction,
  outgoing: Outgoing,
  instruction: Instruction,
) => Promise<Ready>
