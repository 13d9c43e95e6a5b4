import { sql } from 'drizzle-orm'
import { CAME } from '../../core/workflow/lists.ts'

/** The path or arm of an entry of the ledger by which people part; null for the last path of a branching step. */
export const WAY = sql`case
  when ledger.kind = 'came' then case when ledger.entry->>'cameAt' is null then null else ${CAME} end
  else coalesce(ledger.entry->>'branch', ledger.entry->>'arm') end`
