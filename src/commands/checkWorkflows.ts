import { readFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { z } from 'zod'
import type { ShopFacts } from '../core/events/facts.ts'
import { isDuration } from '../core/shared/duration.ts'
import { isZone } from '../core/shared/time.ts'
import { definitionSchema } from '../core/workflow/definition.ts'
import { tapReport, type Document } from './tap.ts'

const USAGE = `yomble check-workflows FILE… [--zone Europe/Lisbon] [--currency EUR] [--gap PT20H] [--quiet 21:00-08:00]

Goes through the examples of workflow documents, without server or database, and reports in TAP 14. The options are
rules of the shop that they were kept in; without them there is no gap and there are no quiet hours, and the zone is UTC.
Exit code 0: all come out as kept. 1: some do not. 2: a file could not be read.
`

const options = z.object({
  zone: z.string().refine(isZone, 'must be an IANA zone like Europe/Lisbon').default('UTC'),
  currency: z.string().regex(/^[A-Z]{3}$/, 'must be an ISO 4217 code like EUR').default('EUR'),
  gap: z.string().refine(isDuration, 'must be a duration like PT20H').optional(),
  quiet: z.string().regex(/^\d\d:\d\d-\d\d:\d\d$/, 'must be two times like 21:00-08:00').optional(),
}) // prettier-ignore

/** Runs the command with what was typed after its name; returns its exit code. */
export function checkWorkflows(args: string[]): number {
  try {
    return checkFiles(args)
  } catch (error) {
    if (!(error instanceof UnusableFile)) throw error
    console.error(error.message)
    return 2
  }
}

function checkFiles(args: string[]): number {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      zone: { type: 'string' },
      currency: { type: 'string' },
      gap: { type: 'string' },
      quiet: { type: 'string' },
    },
  })
  const read = options.safeParse(values)
  if (!read.success || positionals.length === 0) {
    const why =
      read.error?.issues.map(({ path, message }) => `--${path.join('.')} ${message}`) ?? []
    console.error([...why, USAGE].join('\n'))
    return 2
  }
  const { lines, failed } = tapReport(positionals.map((file) => documentIn(file)), shopOf(read.data)) // prettier-ignore
  console.log(lines.join('\n'))
  return failed > 0 ? 1 : 0
}

function shopOf({ zone, currency, gap, quiet }: z.infer<typeof options>): ShopFacts {
  const [from = '', to = ''] = quiet?.split('-') ?? []
  return {
    name: 'Shop',
    zone,
    currency,
    locale: 'en-IE',
    messageGap: gap ?? null,
    quietHours: quiet === undefined ? null : { from, to },
    holdout: null,
    backOfficeUrl: null,
  }
}

/** A file that cannot be used, and why. */
class UnusableFile extends Error {}

function documentIn(file: string): Document {
  let json: unknown
  try {
    json = JSON.parse(readFileSync(file, 'utf8'))
  } catch (error) {
    throw new UnusableFile(`${file}: ${error instanceof Error ? error.message : String(error)}`)
  }
  const parsed = definitionSchema.safeParse(json)
  if (parsed.success) return { file, definition: parsed.data }
  const [issue] = parsed.error.issues
  throw new UnusableFile(`${file}: ${issue?.path.join('.')} ${issue?.message}`)
}
