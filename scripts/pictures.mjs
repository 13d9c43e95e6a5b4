// Takes the pictures in docs/screenshots from a running demo: node scripts/pictures.mjs [folder]
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { chromium } from 'playwright-core'
import { ensureChromium } from './lib/packages.mjs'
import { ROOT } from './lib/commands.mjs'
import { runScript, say } from './lib/say.mjs'

const base = process.env.YOMBLE_URL ?? 'http://127.0.0.1:8080'
const folder = process.argv[2] ?? join(ROOT, 'docs/screenshots')

const openWorkflow = (name) => async (page) => {
  await page.goto(`${base}/workflows`)
  await page.getByRole('link', { name, exact: true }).click()
  await page.getByLabel('Timetable').waitFor()
}

const openMessage = async (page, workflow, stop) => {
  await openWorkflow(workflow)(page)
  await page.getByRole('button', { name: stop }).click()
  await page.getByRole('link', { name: 'Write and preview' }).click()
  await page.locator('iframe').waitFor()
}

const VIEWS = {
  workflows: (page) => page.goto(`${base}/workflows`),
  timetable: async (page) => {
    await openWorkflow('After dispatch')(page)
    await page.getByRole('button', { name: 'Email: Starting out' }).click()
  },
  rehearsal: async (page) => {
    await openWorkflow('Open checkout')(page)
    await page.getByRole('link', { name: 'Rehearse' }).click()
    await page.getByRole('button', { name: 'orders again' }).click()
    await page.getByLabel('In what: orders again').selectOption('hours')
    await page.getByText(/^Left before/).waitFor()
  },
  'message-results': async (page) => {
    await openWorkflow('After dispatch')(page)
    await page.getByRole('link', { name: 'Results' }).click()
    await page.getByRole('link', { name: 'A feeder beside it' }).click()
    await page.getByRole('region', { name: 'By weekday' }).scrollIntoViewIfNeeded()
  },
  'timetable-glance': async (page) => {
    await openWorkflow('Open checkout')(page)
    await page.getByRole('button', { name: 'At a glance' }).click()
  },
  message: async (page) => {
    await openMessage(page, 'Order confirmation', 'Email: Order confirmation')
    const message = page.frameLocator('iframe[title="The message"]')
    await message.getByText('your order is with us').click()
    await page.getByRole('toolbar').waitFor()
  },
  'message-dark': async (page) => {
    await openMessage(page, 'Order confirmation', 'Email: Order confirmation')
    await page.getByRole('button', { name: 'Narrow' }).click()
    await page.getByRole('button', { name: 'Dark', exact: true }).click()
  },
  brand: (page) => page.goto(`${base}/settings/brand`),
  outline: async (page) => {
    await openWorkflow('Open checkout')(page)
    await page.getByRole('button', { name: 'Outline' }).click()
  },
  'going-live': async (page) => {
    await openWorkflow('First order to second')(page)
    await page.getByRole('button', { name: 'Go live' }).click()
    await page.getByText(/by the last 90 days/).waitFor()
  },
  results: async (page) => {
    await openWorkflow('Open checkout')(page)
    await page.getByRole('link', { name: 'Results' }).click()
    await page.getByRole('columnheader', { name: 'Came to it' }).waitFor()
  },
  today: async (page) => {
    await page.goto(`${base}/today`)
    await page.getByText('Who got most').waitFor()
  },
  test: async (page) => {
    await openWorkflow('Review request')(page)
    await page.getByRole('link', { name: 'Results' }).click()
    await page.getByRole('heading', { name: 'Tests' }).scrollIntoViewIfNeeded()
    await page.getByRole('region', { name: /^Test:/ }).evaluate((one) => one.scrollIntoView())
  },
  recipes: (page) => page.goto(`${base}/recipes`),
  designs: async (page) => {
    await openMessage(page, 'Order confirmation', 'Email: Order confirmation')
    await page.getByRole('button', { name: 'Designs', exact: true }).click()
    await page.frameLocator('iframe[title="Second order"]').getByText('goes well').waitFor()
  },
  ledger: (page) => page.goto(`${base}/ledger`),
  person: async (page) => {
    await page.goto(`${base}/people?search=hartwig`)
    await page.getByRole('table').getByRole('link').first().click()
    await page.getByRole('list', { name: 'Time line' }).waitFor()
  },
  mailbox: (page) => page.goto(`${base}/mailbox`),
  reorders: async (page) => {
    await page.goto(`${base}/reorders`)
    await page.getByText('As a table').waitFor()
  },
}

await runScript(async () => {
  mkdirSync(folder, { recursive: true })
  const browser = await chromium.launch({
    executablePath: await ensureChromium(),
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.goto(`${base}/sign-in`)
  await page.getByLabel('Email address').fill('maren@combwright.example')
  await page.getByLabel('Password').fill('first inspection day')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('heading', { name: 'Today', exact: true }).waitFor()
  const only = process.argv[3]?.split(',')
  for (const [name, show] of Object.entries(VIEWS)) {
    if (only && !only.includes(name)) continue
    await show(page)
    await page.waitForLoadState('networkidle')
    await page.screenshot({ path: join(folder, `${name}.png`) })
    say(`${name}.png`)
  }
  await browser.close()
})
