import { z } from 'zod'

/** How a connection fetches what it does not get sent. */
export const pullRule = z.strictObject({
  url: z.url({ protocol: /^https?$/, error: 'must be an address like https://…' }).max(2000),
  everyMinutes: z.int().min(1).max(1440),
  /** Sent as `Authorization`; empty for none. */
  authorization: z.string().max(2000),
  /** JSONata on a page: the address of the next one, whole or relative, or a query like `?after=…`. Empty: there is one page. */
  next: z.string().max(2000),
})
export type PullRule = z.infer<typeof pullRule>

/** How far fetching has come. */
export interface PullState {
  /** By real time. */
  at: number
  /** What came of it, in words; null where it went well. */
  problem: string | null
  pages: number
  fresh: number
  /** Pages that were refused, in whole or in part: they are kept. */
  refused: number
  /** Where it goes on, where the last page named a next one. */
  cursor: string | null
  /** Of the first page, so that it is fetched again only when it has changed (RFC 9110 8.8.3). */
  etag: string | null
}
