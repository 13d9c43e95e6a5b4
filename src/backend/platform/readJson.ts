import type { z } from 'zod'
import { AppError } from './errors.ts'

/** Reads JSON that somebody handed back to us. Throws AppError `bad_input`, with the path of the field it came in. */
export function readJson<Kind>(schema: z.ZodType<Kind>, text: string, path: string): Kind {
  try {
    return schema.parse(JSON.parse(text))
  } catch {
    const message = 'is not what an earlier answer said'
    throw new AppError('bad_input', 'This page cannot be asked for.', [{ path, message }])
  }
}
