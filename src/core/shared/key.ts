import { z } from 'zod'

/** Names a part of a document within it: a step, a path, a block. */
export const keySchema = z
  .string()
  .regex(/^[a-z][a-z0-9_-]{0,39}$/, 'must be a short key like wait-1')
