import { z } from 'zod'

const notice = z.object({
  key: z.string(),
  label: z.string(),
  takenBy: z.string().nullable(),
  candidates: z.array(z.object({ id: z.string(), name: z.string() })),
  trouble: z.enum(['both', 'neither']).nullable(),
})
export type NoticeResponse = z.infer<typeof notice>
export const noticesResponse = z.array(notice)

/** Which workflow takes a notice over; null: back to the shop. */
export const noticeBody = z.object({ takenBy: z.string().max(100).nullable() })

/** What the shop's own system asks: which notices it is to send. */
export const shopNoticesResponse = z.object({
  notices: z.array(z.object({ key: z.string(), sentBy: z.enum(['shop', 'yomble']) })),
})
