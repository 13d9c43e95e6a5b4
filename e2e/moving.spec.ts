import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, signIn } from './support.ts'

const add = async (page: Page, place: string, label: string) => {
  await page.locator(`[data-place="${place}"]`).click()
  await page.getByRole('option', { name: `${label}:` }).click()
}
const stop = (page: Page, name: string) => page.getByRole('button', { name, exact: true })

/** A new workflow: an email, a wait, and a split with one path. */
async function begin(page: Page) {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await add(page, 'root:0', 'Email')
  await page.getByLabel('Name, for you and colleagues').fill('Welcome')
  await add(page, 'root:1', 'Wait')
  await add(page, 'root:2', 'Split')
}

test('steps are copied, cut, pasted and doubled by keyboard, also into another workflow', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await begin(page)
  await stop(page, 'Email: Welcome').focus()
  await page.keyboard.press('Control+c')
  await expect(page.getByText('Copied “Welcome”. Paste it after any step.')).toBeVisible()
  await stop(page, 'Path: First order').focus()
  await page.keyboard.press('Control+v')
  await expect(stop(page, 'Email: Welcome')).toHaveCount(2)
  await stop(page, 'Wait 1 d').focus()
  await page.keyboard.press('Control+x')
  await expect(stop(page, 'Wait 1 d')).toHaveCount(0)
  await stop(page, 'Email: Welcome').first().focus()
  await page.keyboard.press('Control+v')
  await expect(stop(page, 'Wait 1 d')).toHaveCount(1)
  await page.keyboard.press('Control+z')
  await expect(stop(page, 'Wait 1 d')).toHaveCount(0)
  // A path with all that is on it.
  await stop(page, 'Path: First order').focus()
  await page.keyboard.press('Control+d')
  await expect(stop(page, 'Path: First order')).toHaveCount(2)
  await expect(stop(page, 'Email: Welcome')).toHaveCount(3)
  await stop(page, 'Path: First order').first().focus()
  await page.keyboard.press('Control+c')

  await page.getByRole('link', { name: 'Workflows' }).click()
  await page.getByRole('button', { name: 'New workflow' }).click()
  await stop(page, 'Start').focus()
  await page.keyboard.press('Control+v')
  await expect(stop(page, 'Path: First order')).toHaveCount(1)
  await expect(stop(page, 'Email: Welcome')).toHaveCount(1)
})

test('a step is dragged to another path, and a moment is changed at its head', async ({ page }) => {
  await begin(page)
  const from = await stop(page, 'Email: Welcome').boundingBox()
  const to = await page.locator('[data-place="split-1/branch-1:0"]').boundingBox()
  if (!from || !to) throw new Error('Both are on the page')
  await page.mouse.move(from.x + 20, from.y + 20)
  await page.mouse.down()
  await page.mouse.move(from.x + 60, from.y + 40, { steps: 4 })
  await page.mouse.move(to.x + 9, to.y + 9, { steps: 8 })
  await page.mouse.up()
  await expect(page.locator('[data-after="branch:split-1:branch-1"]')).toHaveAttribute(
    'aria-label',
    'Add before “Welcome”',
  )

  await page.getByRole('button', { name: 'Change the moment + 1 d' }).click()
  await page.getByLabel('How long', { exact: true }).fill('3')
  await expect(stop(page, 'Wait 3 d')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Change the moment + 3 d' })).toBeVisible()
})

test('the outline says the same in words, and is edited by keyboard', async ({ page }) => {
  await begin(page)
  await page.getByRole('button', { name: 'Outline' }).click()
  const outline = page.getByRole('group', { name: 'Lines of the outline' })
  await expect(outline).toContainText('When an order is placed:')
  await expect(outline).toContainText('First order, if ordered exactly once ever: goes on.')
  await outline.getByRole('button', { name: /^First order/ }).focus()
  await page.keyboard.press('/')
  await page.keyboard.type('staff')
  await page.keyboard.press('Enter')
  await page.getByLabel('Name, for you and colleagues').fill('Call them')
  await page.keyboard.press('Escape')
  await expect(outline.getByRole('button', { name: /^Note to staff/ })).toBeFocused()
  await page.keyboard.press('ArrowUp')
  await expect(outline.getByRole('button', { name: /^First order/ })).toBeFocused()
  await expectAccessible(page)
  await page.reload()
  await expect(outline).toContainText('Note to staff “Call them”')
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as text' }).click()
  expect((await download).suggestedFilename()).toBe('New-workflow.txt')
})
