import { readdirSync, readFileSync } from 'node:fs'
import { expect, test } from 'vitest'

const SRC = new URL('../../', import.meta.url)
/** Every source but the tests, and the demo, which empties the tables before it begins. */
const sources = readdirSync(SRC, { recursive: true, encoding: 'utf8' }).filter(
  (path) => /\.tsx?$/.test(path) && !/\.test\.tsx?$|^testing\/|^demo\//.test(path),
)

/** The tables with the one file that writes each, as they are called in SQL and in the code. */
const OWNERS = {
  runs: { table: 'runs', file: 'backend/runs/store.ts' },
  ledger: { table: 'ledger', file: 'backend/runs/ledger.ts' },
  messages: { table: 'messages', file: 'backend/messages/queue.ts' },
  coupons: { table: 'coupons', file: 'backend/coupons/issue.ts' },
} as const

/** The files that insert into a table, update it or delete from it, in SQL or by Drizzle. */
function writersOf(table: string): string[] {
  const statement = new RegExp(String.raw`\b(insert into|update|delete from) ${table}\b(?! (to|of) )|\.(insert|update|delete)\(${table}\)`) // prettier-ignore
  return sources.filter((path) => statement.test(readFileSync(new URL(path, SRC), 'utf8')))
}

test.each(Object.values(OWNERS))('$table is written in $file alone', ({ table, file }) => {
  expect(writersOf(table)).toEqual([file])
})
