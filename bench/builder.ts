import { spawn } from 'node:child_process'
import { createServer } from 'node:net'
import { fileURLToPath } from 'node:url'
import { chromium, type Page } from '@playwright/test'
import { definitionSchema, type Definition } from '../src/core/workflow/definition.ts'
import { allSteps } from '../src/core/workflow/lists.ts'
import type { Step } from '../src/core/workflow/steps.ts'
import { aDefinition, anEmail, happened, ordersEver, wait } from '../src/testing/builders.ts'

const STEPS = 200
/** As the machine is, and as slow as a cheap laptop. */
const SLOWDOWNS = [1, 4]
/** How often each edit is made. */
const TIMES = 12

/**
 * The builder in Debian's Chromium: from the moment a workflow of 200 steps has come to the first
 * frame that shows it, and from an input to the next frame after it (the browser's own Event Timing,
 * in steps of 8 ms). Beside it stands what an input takes that nothing follows from.
 */
export async function measureBuilder(): Promise<void> {
  const port = await freePort()
  const stage = spawn(process.execPath, ['--import', 'tsx', 'e2e/stage.ts'], {
    env: { ...process.env, PORT: String(port) },
    stdio: 'inherit',
  })
  const url = `http://127.0.0.1:${port}`
  try {
    await answers(url)
    await inBrowser(url)
  } finally {
    stage.kill('SIGTERM')
    await new Promise((done) => stage.once('exit', done))
  }
}

async function inBrowser(url: string): Promise<void> {
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  const page = await browser.newPage({ baseURL: url, viewport: { width: 1280, height: 800 } })
  await page.addInitScript({ path: fileURLToPath(new URL('inPage.js', import.meta.url)) })
  await page.goto('/sign-in')
  await page.getByLabel('Email address').fill('maren@combwright.example')
  await page.getByLabel('Password').fill('first inspection day')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('navigation', { name: 'Main' }).waitFor()
  const devtools = await page.context().newCDPSession(page)
  for (const rate of SLOWDOWNS) {
    await devtools.send('Emulation.setCPUThrottlingRate', { rate })
    console.log(`\nThe builder with a workflow of ${STEPS} steps, processor slowed down ${rate}×`)
    say('A letter in a bare field, to compare with', await typedIntoNothing(page))
    await machine(page)
    const id = await make(page, url)
    const opened: number[] = []
    for (let time = 0; time < 5; time += 1) opened.push(await open(page, id))
    say('From the data to the first frame with the timetable', opened)
    for (const [name, edit] of Object.entries(EDITS)) say(name, await edited(page, edit))
    await machine(page)
  }
  await browser.close()
}

const EDITS: Readonly<Record<string, (page: Page) => Promise<void>>> = {
  'A letter in a subject': async (page) => {
    // Found by the page itself: looking for a label would take the page's time too.
    await page.evaluate('watched.field("Subject").focus()')
    await page.evaluate('watched.answered()')
    await page.keyboard.press('x')
  },
  'Arrow key to the next stop': async (page) => {
    await focus(page, '[data-item="email:m0"]')
    await page.keyboard.press('ArrowRight')
  },
  'Enter: a stop and its form': async (page) => {
    await page.locator('[data-item="email:m0"]').click()
  },
  'A step duplicated': async (page) => {
    await focus(page, '[data-item="email:m0"]')
    await page.keyboard.press('Control+d')
  },
  Undo: async (page) => {
    await page.keyboard.press('Control+z')
  },
  'A step removed': async (page) => {
    await focus(page, ':nth-match([data-item^="email:"], 2)')
    await page.keyboard.press('Delete')
  },
}

/** Puts the keyboard on something, and waits until that has been answered: only the edit is to count. */
async function focus(page: Page, selector: string): Promise<void> {
  await page.locator(selector).first().focus()
  await page.evaluate('watched.answered()')
}

/** Makes a long workflow; returns its id. */
async function make(page: Page, origin: string): Promise<string> {
  const made = await page.request.post('/api/workflows', {
    headers: { origin },
    data: { definition: longWorkflow() },
  })
  if (!made.ok()) throw new Error(`The workflow was refused: ${await made.text()}`)
  const { id } = (await made.json()) as { id: string }
  return id
}

/** What a letter takes where nothing follows from it. */
async function typedIntoNothing(page: Page): Promise<number[]> {
  await page.goto('/sign-in')
  await page.setContent('<label>Bare <input></label>')
  await page.getByLabel('Bare').focus()
  return timed(page, () => page.keyboard.press('x'))
}

/** Opens the workflow from the list; milliseconds from its data to the first frame that shows it. */
async function open(page: Page, id: string): Promise<number> {
  await page.goto('/workflows')
  await page.locator(`a[href="/workflows/${id}"]`).first().click()
  return page.evaluate<number>(`watched.shownAfter('/api/workflows/${id}')`)
}

/** How fast the machine is at the moment, by a loop that always does the same. */
async function machine(page: Page): Promise<void> {
  const loops: number[] = []
  for (let time = 0; time < 5; time += 1) loops.push(await page.evaluate<number>('watched.loop()'))
  say('A loop of plain JavaScript, to compare runs by', loops)
}

/** Milliseconds from each input of an edit to the next frame. */
async function edited(page: Page, edit: (page: Page) => Promise<void>): Promise<number[]> {
  await page.locator('[data-item="email:m0"]').click()
  await page.getByRole('textbox', { name: 'Subject', exact: true }).waitFor()
  return timed(page, () => edit(page))
}

async function timed(page: Page, act: () => Promise<void>): Promise<number[]> {
  await page.evaluate('watched.answered()')
  await page.evaluate('watched.inputs.splice(0)')
  for (let time = 0; time < TIMES; time += 1) {
    await act()
    await page.evaluate('watched.answered()')
  }
  return page.evaluate<number[]>('watched.inputs.splice(0)')
}

function say(name: string, values: readonly number[]): void {
  const sorted = values.toSorted((a, b) => a - b)
  const middle = sorted[Math.floor(sorted.length / 2)]
  const worst = sorted.at(-1)
  // Event Timing tells of nothing that took less than 16 ms.
  const figures =
    middle === undefined || worst === undefined
      ? 'under 16 ms'
      : `middle ${middle.toFixed(0)} ms, worst ${worst.toFixed(0)} ms`
  console.log(`${name.padEnd(58)} ${figures} (${sorted.length} times)`)
}

/** Two hundred steps: a wait, a message, and a split with a message on each of its two paths. */
function longWorkflow(): Definition {
  const steps = Array.from({ length: STEPS / 5 }, (_, index): Step[] => [
    wait(`w${index}`, 'P1D'),
    anEmail(`m${index}`),
    {
      key: `s${index}`,
      kind: 'split',
      branches: [
        {
          key: `b${index}`,
          name: 'Second order',
          when: ordersEver((index % 4) + 2),
          steps: [anEmail(`a${index}`)],
        },
      ],
      otherwise: [anEmail(`o${index}`)],
    },
  ]).flat()
  const exclusions = [
    { key: 'refunded', when: happened('order.refunded'), effect: 'leave' as const },
  ]
  const definition = definitionSchema.parse(aDefinition({ name: 'Long', exclusions, steps }))
  if (allSteps(definition.steps).length !== STEPS)
    throw new Error('The workflow has another length')
  return definition
}

async function answers(url: string): Promise<void> {
  for (;;) {
    const isThere = await fetch(`${url}/sign-in`).then(
      ({ ok }) => ok,
      () => false,
    )
    if (isThere) return
    await new Promise((done) => setTimeout(done, 200))
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer()
    probe.once('error', reject)
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number }
      probe.close(() => resolve(port))
    })
  })
}
