import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { subjectSchema } from '../core/workflow/rehearsalSubject.ts'
import { aDefinition, anEmail, on, wait } from '../testing/builders.ts'

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'examples-'))
})
afterAll(() => rmSync(folder, { recursive: true }))

const subject = subjectSchema.parse({
  at: '2026-04-14T10:05:00Z',
  customer: { firstName: 'Marta', country: null, zone: null, emailConsent: true, smsConsent: null, hasPhone: false, tags: [] },
  earlier: [],
  lines: [{ productId: 'p1', title: 'Hive', category: null, quantity: 1, unitPriceMinor: 18_900 }],
  stars: 5,
  dateInDays: 30,
  between: [],
}) // prettier-ignore
const example = (key: string, name: string, at: string) => ({ key, name, subject, outcome: { runs: 1, messages: [{ step: 'm', at }], ways: [], exclusions: [] } }) // prettier-ignore
const document = aDefinition({
  name: 'Thanks',
  trigger: on('order.placed'),
  steps: [wait('w', 'P3D'), anEmail('m', { name: 'Care guide', purpose: 'marketing' })],
  examples: [
    example('a', 'Plain #1', '2026-04-17T10:05:00Z'),
    example('b', 'Later', '2026-04-18T10:05:00Z'),
  ],
})

/** The command as somebody types it. */
function run(content: string, ...options: string[]) {
  const file = join(folder, 'workflow.json')
  writeFileSync(file, content)
  const script = new URL('examples.ts', import.meta.url).pathname
  const { status, stdout, stderr } = spawnSync(process.execPath, ['--import', 'tsx', script, file, ...options], { encoding: 'utf8' }) // prettier-ignore
  return { status, stdout, stderr }
}

test('examples are gone through without a server, and reported in TAP', () => {
  const { status, stdout } = run(JSON.stringify(document))
  expect(status).toBe(1)
  expect(stdout.trim().split('\n')).toEqual([
    'TAP version 14',
    '1..2',
    String.raw`ok 1 - Thanks: Plain \#1`,
    'not ok 2 - Thanks: Later',
    '  ---',
    '  differences:',
    '    - "gets “Care guide” on 17 April, 10:05 instead of 18 April, 10:05"',
    '  ...',
  ])
})

test('by the rules of the shop that is named', () => {
  // Quiet until noon in Lisbon, which is an hour ahead of UTC.
  const { status, stdout } = run(JSON.stringify({ ...document, examples: [example('a', 'Quiet', '2026-04-17T11:00:00Z')] }), '--zone', 'Europe/Lisbon', '--quiet', '08:00-12:00') // prettier-ignore
  expect(stdout).toContain('ok 1 - Thanks: Quiet')
  expect(status).toBe(0)
})

test.each([
  ['no JSON', '{', [], /workflow\.json/],
  ['no workflow', '{"format":"yomble.workflow"}', [], /workflow\.json: formatVersion/],
  ['no zone', JSON.stringify(document), ['--zone', 'Mars/Olympus'], /--zone must be an IANA zone/],
])('%s is said, with the exit code of what could not be read', (_what, content, more, says) => {
  const { status, stderr, stdout } = run(content, ...more)
  expect(status).toBe(2)
  expect(stderr).toMatch(says)
  expect(stdout).toBe('')
})
