import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import { readConfig, settings } from './config.ts'
import { configDoc } from './configDoc.ts'

const LEAST = { DATABASE_URL: 'postgres://a@b/c', LINK_SECRET: 'x'.repeat(32) }

test('the page of settings is the one that the settings make', () => {
  const page = readFileSync(new URL('../../../docs/configuration.md', import.meta.url), 'utf8')
  const bare = (text: string) => text.replaceAll(/[\s-]+/g, '')
  expect(bare(page)).toBe(bare(configDoc()))
  for (const name of Object.keys(settings.shape)) expect(page).toContain(`\`${name}\``)
})

test.each([
  ['', false],
  ['false', false],
  ['true', true],
  ['2', 2],
  ['10.0.0.0/8, 127.0.0.1', '10.0.0.0/8, 127.0.0.1'],
])('TRUST_PROXY=%s', (given, read) => {
  expect(readConfig({ ...LEAST, TRUST_PROXY: given }).TRUST_PROXY).toBe(read)
})

test('everything that is wrong is said at once; other variables are nobody’s business', () => {
  expect(() => readConfig({ PORT: 'x', LINK_SECRETS: 'y' })).toThrow(
    /LINK_SECRETS is no setting.*DATABASE_URL.*LINK_SECRET.*PORT/,
  )
  expect(readConfig({ ...LEAST, HOME: '/root', HOSTNAME: 'h', SHELL: 'bash' }).HOST).toBe('127.0.0.1')
}) // prettier-ignore
