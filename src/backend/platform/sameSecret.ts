import { createHash, timingSafeEqual } from 'node:crypto'

/** Whether two secrets are the same, in a time that says nothing of where they differ, nor of how long they are. */
export const sameSecret = (one: string, other: string): boolean =>
  timingSafeEqual(digest(one), digest(other))

const digest = (text: string): Buffer => createHash('sha256').update(text).digest()
