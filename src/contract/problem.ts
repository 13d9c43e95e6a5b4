import { z } from 'zod'

/** What each code of a refusal means, as its title. */
export const PROBLEM_TITLES = {
  bad_input: 'It cannot be taken as it is',
  not_signed_in: 'Nobody is signed in, or the key does not work',
  wrong_origin: 'It came from another site',
  not_allowed: 'This account or key may not do that',
  not_found: 'There is nothing there',
  conflict: 'It does not fit to how things stand',
  other_shop: 'It came from a page of another shop',
  too_large: 'It is too large',
  not_ready: 'It is not ready for that',
  too_many: 'It came too often',
  busy: 'Yomble is busy',
  internal: 'Yomble ran into an error of its own',
} as const
export type ProblemCode = keyof typeof PROBLEM_TITLES

/** Where the meaning of a code can be looked up. */
export const problemType = (code: ProblemCode): string => `/api/problems#${code}`

/** What is answered where something is refused: problem details as RFC 9457 has them. */
export const problemResponse = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  /** What happened and what to do. */
  detail: z.string(),
  code: z.string(),
  /** What is wrong with the input, and where. */
  problems: z.array(
    z.object({ path: z.string(), code: z.string().optional(), message: z.string() }),
  ),
})
export type ProblemResponse = z.infer<typeof problemResponse>
