import { execFileSync, spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { expect, test } from '@playwright/test'
import { emptyDatabase } from '../src/testing/database.ts'
import { freePort } from '../src/testing/freePort.ts'
import { LINK_SECRET } from '../src/testing/world.ts'

const YOMBLE = fileURLToPath(new URL('../bin/yomble.mjs', import.meta.url))

test('what was built brings its tables up to date, and leads whoever comes first to their shop', async ({ page }) => {
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
    await expect(page.getByText('Nobody is here yet')).toBeVisible()
    const said = execFileSync(process.execPath, [YOMBLE, 'begin'], { env }).toString()
    const link = new URL(/http:\S+/.exec(said)?.[0] ?? 'none:')
    await page.goto(`http://127.0.0.1:${port}${link.pathname}`)
    await page.getByLabel('Your name').fill('Inês Quaresma')
    await page.getByLabel('Email address').fill('ines@apiary.example')
    await page.getByLabel(/^Password/).fill('four lazy drones hum')
    await page.getByRole('button', { name: 'On to the shop' }).click()
    await page.getByLabel('Name of the shop').fill('The Apiary')
    await page.getByRole('button', { name: 'Begin' }).click()
    await expect(page.getByRole('heading', { name: 'First steps of The Apiary' })).toBeVisible()
    await page.goto(`http://127.0.0.1:${port}/begin`)
    await expect(page.getByText('There is a shop here already')).toBeVisible()
  } finally {
    both.kill('SIGTERM')
  }
  expect(await over).toBe(0)
}) // prettier-ignore
