import { sql } from 'drizzle-orm'
import { CUSTOMER_CHANNELS, type CustomerChannel } from '../../../core/channels/catalogue.ts'
import type { CustomerData } from '../../../core/events/entities.ts'
import type { CloudEvent } from '../../../core/events/cloudEvent.ts'
import { ownWordIn } from '../../../core/events/ownWord.ts'
import { arrayOf, recordsOf, type Db } from '../../platform/db.ts'
import type { TimedEvent } from './timedEvent.ts'

/**
 * A yes or no to marketing. The person's own words are kept apart from what the shop has told: the latest
 * of them counts, whatever the shop's data say. Of two at one moment the one that came last counts.
 */
export async function projectConsent(
  db: Db,
  shopId: string,
  events: readonly TimedEvent[],
): Promise<void> {
  const words = events.flatMap(({ event, at }, order) => {
    const word = ownWordIn(event.type, event.data)
    return word ? [{ ...word, at, order }] : []
  })
  if (words.length > 0) await keepWords(db, shopId, words)
  await keepRecorded(db, shopId, events)
}

async function keepWords(db: Db, shopId: string, words: readonly object[]): Promise<void> {
  for (const channel of CUSTOMER_CHANNELS) {
    const said = sql.raw(`${channel}_said`)
    await db.execute(sql`
      update customers as known
      set ${said} = w.given, ${said}_at = w.at, ${said}_how = w.how,
        as_of = greatest(known.as_of, w.at)
      from (
        select distinct on (r."customerId") r."customerId", r.given, r.at, r.how
        from jsonb_to_recordset(${recordsOf(words)}) as r("customerId" text, channel text,
          "messageId" text, given boolean, how text, at bigint, "order" int)
        left join messages m on m.shop_id = ${shopId} and m.message_id = r."messageId"
        -- A word about a message is about the way that message took.
        where coalesce(r.channel, case when m.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')}) then m.channel
          else 'email' end) = ${channel}
        order by r."customerId", r.at desc, r."order" desc
      ) as w
      where known.shop_id = ${shopId} and known.id = w."customerId"
        and coalesce(known.${said}_at, 0) <= w.at`)
  }
}

/** Where the shop's data say whether somebody agreed. */
const TOLD: Readonly<Record<CustomerChannel, keyof CustomerData>> = {
  email: 'emailConsent',
  sms: 'smsConsent',
}

/** A yes of which nobody says how it was given is the shop's own picture, as in its other events. */
async function keepRecorded(db: Db, shopId: string, events: readonly TimedEvent[]): Promise<void> {
  const newest = new Map<string, object>()
  for (const { event, at } of events) {
    const recorded = recordedIn(event)
    if (recorded) newest.set(`${recorded.channel} ${recorded.customerId}`, { ...recorded, at })
  }
  if (newest.size === 0) return
  for (const channel of CUSTOMER_CHANNELS) {
    const field = TOLD[channel]
    const recorded = sql.raw(`${channel}_recorded`)
    await db.execute(sql`
      update customers as known set ${recorded} = t.given,
        recorded_at = known.recorded_at || jsonb_build_object(${field}::text, t.at)
      from jsonb_to_recordset(${recordsOf([...newest.values()])}) as t("customerId" text,
        channel text, given boolean, at bigint)
      where known.shop_id = ${shopId} and known.id = t."customerId" and t.channel = ${channel}
        and coalesce((known.recorded_at->>${field})::bigint, 0) <= t.at`)
  }
}

function recordedIn({ type, data }: CloudEvent) {
  return 'consent' in data && !ownWordIn(type, data) ? data.consent : null
}
