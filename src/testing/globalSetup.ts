import { makeTemplate } from './database.ts'

/** Vitest calls this once before the tests that use PostgreSQL. */
export async function setup(): Promise<void> {
  await makeTemplate()
}
