import type { HookCaller } from '../../../backend/hooks/index.ts'
import type { Mailer, MessageRow, SmsGateway } from '../../../backend/messages/index.ts'
import type { Recommender } from '../../../backend/recommend/index.ts'
import type { Database } from '../../../backend/platform/db.ts'
import type { HandOver } from '../../../backend/platform/handOver.ts'
import type { KeptRun } from '../../../backend/runs/index.ts'
import type { Programs } from '../programs.ts'

/** What sending needs of the process it happens in. */
export interface SendDeps {
  db: Database
  programs: Programs
  mailer: Mailer
  sms: SmsGateway
  hooks: HookCaller
  recommender: Recommender
  /** The worker that hands over, so that what it leaves half done can be told if it dies. */
  workerId: string
  publicUrl: string
  linkSecret: string
  /** Where bounces come back to; null: to whom each message is from. */
  returnPath: string | null
}

/** A message on its way out, with how to hand it over. */
export interface Prepared {
  message: MessageRow
  run: KeptRun
  /** Whom or what it goes to, for the ledger. */
  to: string
  handOver: () => Promise<HandOver>
}
