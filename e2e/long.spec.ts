import { expect, test, type Page } from '@playwright/test'
import { aDefinition, anEmail, ordersEver, wait } from '../src/testing/builders.ts'
import type { Step } from '../src/core/workflow/steps.ts'
import { expectAccessible, signIn } from './support.ts'

/** Forty times a wait, a message and a split with a message on each path. */
const LONG: Step[] = Array.from({ length: 40 }, (_, index): Step[] => [
  wait(`w${index}`, 'P1D'),
  anEmail(`m${index}`),
  {
    key: `s${index}`,
    kind: 'split',
    branches: [
      { key: `b${index}`, name: 'Second', when: ordersEver(2), steps: [anEmail(`a${index}`)] },
    ],
    otherwise: [anEmail(`o${index}`)],
  },
]).flat()

async function open(page: Page, name: string, steps: Step[]): Promise<string> {
  await signIn(page)
  const { origin } = new URL(page.url())
  const made = await page.request.post('/api/workflows', {
    headers: { origin },
    data: { definition: aDefinition({ name, steps }) },
  })
  const { id } = (await made.json()) as { id: string }
  await page.goto(`/workflows/${id}`)
  return id
}

const timetable = (page: Page) => page.getByRole('group', { name: 'Timetable' })
const stop = (page: Page, key: string) => page.locator(`[data-item="email:${key}"]`)

test('of a long workflow only what can be seen is drawn, and the keyboard reaches all of it', async ({
  page,
}) => {
  await open(page, 'Two hundred steps', LONG)
  await stop(page, 'm0').focus()
  expect(await page.locator('[data-item]').count()).toBeLessThan(60)
  await expect(stop(page, 'm39')).toHaveCount(0)
  // Split, path, message: five stops to the next "m" along the upper path.
  for (let index = 1; index <= 6; index += 1) {
    for (let step = 0; step < 5; step += 1) await page.keyboard.press('ArrowRight')
    await expect(stop(page, `m${index}`)).toBeFocused()
    await expect(stop(page, `m${index}`)).toBeInViewport()
  }
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Name, for you and colleagues')).toHaveValue('m6')
  await timetable(page).evaluate((frame) => frame.scrollTo({ left: frame.scrollWidth }))
  await expect(stop(page, 'm39')).toBeVisible()
})

test('a workflow is seen at a glance, as a whole', async ({ page }) => {
  await open(page, 'Six steps', LONG.slice(0, 6))
  const overflow = () => timetable(page).evaluate((frame) => frame.scrollWidth - frame.clientWidth)
  expect(await overflow()).toBeGreaterThan(0)
  await page.getByRole('button', { name: 'At a glance' }).click()
  await expect.poll(overflow).toBeLessThanOrEqual(0)
  // Small, but all of it can be reached at its full size in the timetable: WCAG 2.5.8, "equivalent".
  await expectAccessible(page, ['target-size'])
  await page.reload()
  await expect(page.getByRole('button', { name: 'At a glance' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
})

test('the list of what can be added stays in the frame, and moves nothing sideways', async ({
  page,
}) => {
  await open(page, 'Two messages', [anEmail('m0'), anEmail('m1')])
  const last = page.locator('.plus').last()
  await last.scrollIntoViewIfNeeded()
  const scrolled = () => timetable(page).evaluate((frame) => frame.scrollLeft)
  const before = await scrolled()
  await last.click()
  const menu = await page.getByPlaceholder('What to add: type or choose').boundingBox()
  const frame = await timetable(page).boundingBox()
  if (!menu || !frame) throw new Error('Both are on the page')
  expect(menu.x).toBeGreaterThanOrEqual(frame.x)
  expect(menu.x + menu.width).toBeLessThanOrEqual(frame.x + frame.width)
  expect(await scrolled()).toBe(before)
})

/** Presses Tab until something has the focus, as somebody without a mouse does. */
async function tabTo(page: Page, name: string, role: 'button' | 'link' | 'textbox' = 'button') {
  const goal = page.getByRole(role, { name, exact: true }).first()
  for (let presses = 0; presses < 120; presses += 1) {
    if (await goal.evaluate((element) => element === element.ownerDocument.activeElement)) return
    await page.keyboard.press('Tab')
  }
  throw new Error(`Tab does not lead to ${name}`)
}

test('a workflow is built and switched on by keyboard alone', async ({ page }) => {
  await signIn(page)
  await tabTo(page, 'New workflow')
  await page.keyboard.press('Enter')
  // A name comes first: what is typed takes the place of the one it has.
  await expect(page.getByLabel('Name', { exact: true })).toBeFocused()
  await page.keyboard.type('Without a mouse')
  await expect(page).toHaveTitle('Without a mouse · Yomble')
  await tabTo(page, 'Start')
  await page.keyboard.press('/')
  await page.keyboard.type('wait')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('How long', { exact: true })).toBeFocused()
  await page.keyboard.press('Escape')
  await expect(page.locator('[data-item^="wait:"]')).toBeFocused()
  await page.keyboard.press('/')
  await page.keyboard.type('email')
  await page.keyboard.press('Enter')
  await tabTo(page, 'Subject', 'textbox')
  await page.keyboard.type('Hello')
  await tabTo(page, 'Text', 'textbox')
  await page.keyboard.type('All by hand.')
  await tabTo(page, 'Write and preview', 'link')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'New message' })).toBeFocused()
  await tabTo(page, 'Back to the timetable', 'link')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-item^="email:"]')).toBeFocused()
  await tabTo(page, 'Go live')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: 'Who comes in' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Go live' })).toBeEnabled()
  await tabTo(page, 'Go live')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Live v1' })).toBeVisible()
  // Other tests place orders too.
  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Pause' }).click()
  await expect(page.getByRole('button', { name: 'Paused v1' })).toBeVisible()
})

test('a draft says what it would have done over the last 90 days, as it is edited', async ({
  page,
}) => {
  await open(page, 'Would have', [wait('w0', 'P1D'), anEmail('m0')])
  const own = stop(page, 'm0')
  await expect(own).toContainText(/[1-9]\d* go/)
  await expect(timetable(page)).toContainText('last 90 days')
  // A wait that is longer than the past of the shop is not over for anybody.
  await page.locator('[data-item="wait:w0"]').click()
  await page.getByLabel('How long', { exact: true }).fill('200')
  await expect(own).toContainText('0 go')
  await expect(page.locator('[data-item="wait:w0"]')).toContainText(/[1-9]\d* waiting/)
})
