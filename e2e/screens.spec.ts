import { expect, test } from '@playwright/test'
import { expectAccessible, goLive, goTo, placeOrder, signIn } from './support.ts'

test('signing in: a wrong password says so and keeps the address', async ({ page }) => {
  await page.goto('/workflows')
  await expect(page).toHaveURL(/sign-in/)
  await page.getByLabel('Email address').fill('maren@combwright.example')
  await page.getByLabel('Password').fill('not the password')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('alert')).toContainText('do not go together')
  await expect(page.getByLabel('Email address')).toHaveValue('maren@combwright.example')
  await expectAccessible(page)
})

test('on a phone the outline comes first, and the timetable has room to be scrolled in', async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 800 })
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  const outline = page.getByLabel('Outline', { exact: true })
  await expect(outline).toBeVisible()
  expect((await outline.boundingBox())?.width).toBeGreaterThan(340)
  await expectAccessible(page)
  await page
    .getByRole('group', { name: 'Shown as' })
    .getByRole('button', { name: 'Timetable' })
    .click()
  const timetable = page.getByLabel('Timetable', { exact: true })
  await expect(timetable).toBeVisible()
  const box = await timetable.boundingBox()
  expect(box?.width).toBeGreaterThan(340)
  expect(box?.height).toBeGreaterThan(300)
  await expect(page).toHaveURL(/view=timetable/)
})

test('no screen has a violation that axe can find, in light and dark', async ({ page }) => {
  // Many screens, each looked at by axe.
  test.setTimeout(360_000)
  await signIn(page)
  await placeOrder(page, { email: 'axe@example.org', firstName: 'Axel', isNew: true })
  for (const theme of ['light', 'dark']) {
    if (theme === 'dark') await page.getByRole('button', { name: 'Dark theme' }).click()
    for (const place of [
      'Today',
      'Workflows',
      'Ledger',
      'Mailbox',
      'Reorders',
      'Counter',
      'Settings',
    ]) {
      await goTo(page, place)
      await expect(page.getByRole('heading', { level: 1 })).toContainText(place)
      await expectAccessible(page)
    }
    for (const address of [
      '/people',
      '/people/files',
      '/settings/events',
      '/settings/connections',
    ]) {
      await page.goto(address)
      await page.waitForLoadState('networkidle')
      await expectAccessible(page)
    }
    await goTo(page, 'Workflows')
    await page.getByRole('button', { name: 'New workflow' }).click()
    await page.locator('[data-place="root:0"]').click()
    await page.getByRole('option', { name: 'Split:' }).click()
    await page.getByRole('button', { name: 'Path: First order' }).click()
    await expectAccessible(page)
  }
})

test('the timetable can be built and walked by keyboard alone', async ({ page }) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  const plus = page.locator('[data-place="root:0"]')
  await plus.focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('combobox')).toBeFocused()
  await page.keyboard.type('time pass')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Wait 1 d' })).toBeVisible()
  await page.getByRole('button', { name: 'Start', exact: true }).focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('button', { name: 'Wait 1 d' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('How long', { exact: true })).toBeFocused()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('button', { name: 'Wait 1 d' })).toBeFocused()
  await page.keyboard.press('Delete')
  await expect(page.getByRole('button', { name: 'Wait 1 d' })).toHaveCount(0)
  // The keyboard is not lost with what had it.
  await expect(page.getByRole('button', { name: 'Start', exact: true })).toBeFocused()
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('button', { name: 'Wait 1 d' })).toBeVisible()
  await page.keyboard.press('Control+Shift+z')
  await expect(page.getByRole('button', { name: 'Wait 1 d' })).toHaveCount(0)
})

test('what is typed survives a reload, and a server that is away for a while', async ({ page }) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Kept by the server')
  await expect(page.getByText('Draft saved')).toBeAttached()
  await page.reload()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Kept by the server')

  await page.route('**/draft', (route) => route.abort())
  await page.getByLabel('Name', { exact: true }).fill('Kept by the browser')
  await expect(page.getByRole('alert')).toContainText('kept in this browser')
  await page.reload()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Kept by the browser')
  await page.unroute('**/draft')
  await expect(page.getByText('Draft saved')).toBeAttached()
  await page.evaluate('localStorage.clear()')
  await page.reload()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Kept by the browser')
})

test('two people on one draft: the second sees it, and nothing is overwritten silently', async ({
  page,
  context,
}) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toBeVisible()
  // This window hears of nobody until it saves.
  await page.route('**/visit', (route) => route.abort())
  const other = await context.newPage()
  await other.goto(page.url())
  await other.getByLabel('Name', { exact: true }).fill('Theirs')
  await expect(other.getByText('Draft saved')).toBeAttached()
  await page.getByLabel('Name', { exact: true }).fill('Mine')
  await expect(page.getByRole('alert')).toContainText('Somebody else has changed this draft')
  await page.getByRole('button', { name: 'Show theirs' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Theirs')
})

test('two people on one draft see each other, and what the other has saved', async ({
  page,
  browser,
}) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toBeVisible()
  const aoife = await (await browser.newContext()).newPage()
  await signIn(aoife, 'aoife@combwright.example')
  await aoife.goto(page.url())
  await expect(aoife.getByText('also open: Maren')).toBeVisible()
  await expect(page.getByText('also open: Aoife')).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('Seen by both')
  await expect(aoife.getByLabel('Name', { exact: true })).toHaveValue('Seen by both')
  await aoife.goto('/workflows')
  await expect(page.getByText('also open: Aoife')).toHaveCount(0)
})

test('the go-live check stops an unfinished workflow and leads to the place', async ({ page }) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.locator('[data-place="root:0"]').click()
  await page.getByRole('option', { name: 'Email:' }).click()
  await page.getByLabel('Subject', { exact: true }).fill('Dear {{ customer.first_name }}')
  await page.getByLabel('Text', { exact: true }).fill('Hello')
  const finding = page
    .getByRole('list', { name: 'Go-live check' })
    .getByRole('button', { name: /first name is not known of everyone/ })
  await expect(finding).toBeVisible()
  await page.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByText('1 finding must be mended first.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Go live' })).toBeDisabled()
  await finding.click()
  await expect(page.getByLabel('Subject', { exact: true })).toHaveText('Dear first name')
})

test('staff look, and cannot change', async ({ page }) => {
  await signIn(page, 'aoife@combwright.example')
  await expect(page.getByRole('button', { name: 'New workflow' })).toHaveCount(0)
  await page.getByRole('table').getByRole('link').first().click()
  await expect(page.getByLabel('Timetable')).toBeVisible()
  await expect(page.getByRole('button', { name: /Go live|Publish/ })).toHaveCount(0)
  await expect(page.getByLabel('Name', { exact: true })).toBeDisabled()
})

test('a workflow is paused, resumed, changed, published, copied; a draft is deleted', async ({
  page,
}) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Up and down')
  // A trigger of its own, so that what it sends gets in no other test's way.
  await page.getByRole('button', { name: /^Starts when/ }).click()
  await page.getByLabel('Event').selectOption({ label: 'customer created' })
  await page.locator('[data-place="root:0"]').click()
  await page.getByRole('option', { name: 'Email:' }).click()
  await page.getByLabel('Subject', { exact: true }).fill('Hello')
  await page.getByLabel('Text', { exact: true }).fill('Hello')
  await goLive(page)
  await expect(page.getByText(/^Live\s*v1$/)).toBeVisible()

  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  const dialog = page.getByRole('alertdialog', { name: 'Pause' })
  await expect(dialog).toContainText('0 runs in progress will be held')
  await dialog.getByRole('button', { name: 'Pause' }).click()
  await expect(page.getByText(/^Paused\s*v1$/)).toBeVisible()
  await page.getByRole('button', { name: 'Resume', exact: true }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Resume' }).click()
  await expect(page.getByText(/^Live\s*v1$/)).toBeVisible()

  await page.getByRole('button', { name: 'Email: New message' }).click()
  await page.getByLabel('Subject', { exact: true }).fill('Hello again')
  await page.getByRole('button', { name: '1 unpublished change' }).click()
  await expect(page.getByText(/The draft changes 1 thing of version 1/)).toBeVisible()
  await expect(page.getByText('before: Email “New message”')).toBeVisible()
  await page.getByRole('button', { name: 'Make the draft as version 1 was' }).click()
  await expect(page.getByText('The draft says the same as version 1.')).toBeVisible()
  await page.keyboard.press('Control+z')
  await goLive(page, 'Publish changes')
  await expect(page.getByText(/^Live\s*v2$/)).toBeVisible()

  // What is mended in a pause is published, and lets nobody go on yet.
  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  await dialog.getByRole('button', { name: 'Pause' }).click()
  await page.getByRole('button', { name: 'Email: New message' }).click()
  await page.getByLabel('Subject', { exact: true }).fill('Hello, mended')
  await goLive(page, 'Publish changes')
  await expect(page.getByText(/^Paused\s*v3$/)).toBeVisible()
  await page.getByRole('button', { name: 'Resume', exact: true }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Resume' }).click()
  await expect(page.getByText(/^Live\s*v3$/)).toBeVisible()

  await page.getByRole('button', { name: 'Duplicate' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Copy of Up and down')
  await page.getByRole('button', { name: 'Delete' }).click()
  await page.getByRole('button', { name: 'Delete the draft' }).click()
  await expect(page.getByRole('link', { name: 'Up and down', exact: true })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Copy of Up and down' })).toHaveCount(0)
})
