import { spawn } from 'node:child_process'
import { createServer, type AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { emptyDatabase } from '../src/testing/database.ts'
import { LINK_SECRET } from '../src/testing/world.ts'

const YOMBLE = fileURLToPath(new URL('../bin/yomble.mjs', import.meta.url))

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo
      probe.close(() => resolve(port))
    })
  })

test('what was built brings its tables up to date, and answers with the screens', async ({ page }) => {
  const port = await freePort()
  const { TEST_DATABASE_URL: _none, ...rest } = process.env
  const env = { ...rest, DATABASE_URL: await emptyDatabase(), LINK_SECRET, PORT: String(port), LOG_LEVEL: 'warn' }
  const start = (command: string) => spawn(process.execPath, [YOMBLE, command], { env, stdio: 'inherit' })
  const ended = (child: ReturnType<typeof start>) => new Promise<number | null>((resolve) => child.once('close', resolve))
  expect(await ended(start('migrate'))).toBe(0)
  const both = start('all')
  const over = ended(both)
  try {
    const isReady = () => fetch(`http://127.0.0.1:${port}/readyz`).then(({ status }) => status, () => 0)
    await expect.poll(isReady, { timeout: 60_000 }).toBe(200)
    await page.goto(`http://127.0.0.1:${port}/`)
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
  } finally {
    both.kill('SIGTERM')
  }
  expect(await over).toBe(0)
}) // prettier-ignore
