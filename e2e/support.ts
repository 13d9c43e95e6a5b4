import { AxeBuilder } from '@axe-core/playwright'
import { expect, type Page } from '@playwright/test'

/** Signs in as one of the stage's people. */
export async function signIn(page: Page, email = 'maren@combwright.example'): Promise<void> {
  await page.goto('/sign-in')
  await page.getByLabel('Email address').fill(email)
  await page.getByLabel('Password').fill('first inspection day')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Workflows', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Workflows', exact: true })).toBeVisible()
}

/** Goes to a screen by the bar, as a person does. */
export async function goTo(page: Page, place: string): Promise<void> {
  await page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: place }).click()
}

/** Moves the shop clock with one of its buttons and waits until it has arrived. */
export async function moveClock(page: Page, button: string): Promise<void> {
  const time = page.getByLabel('Shop time')
  const before = await time.textContent()
  await page
    .getByRole('group', { name: 'Shop clock' })
    .getByRole('button', { name: button, exact: true })
    .click()
  await expect(time).not.toHaveText(before ?? '')
  await expect(page.getByRole('button', { name: '+1 h', exact: true })).toBeVisible()
}

/** Places an order for a bee brush at the counter; returns its number. */
export async function placeOrder(
  page: Page,
  who: { email: string; firstName?: string; isNew: boolean },
): Promise<string> {
  await goTo(page, 'Counter')
  if (who.isNew) {
    await page.getByRole('button', { name: 'Somebody new' }).click()
    await page.getByLabel('Email address').fill(who.email)
    if (who.firstName) await page.getByLabel('First name').fill(who.firstName)
  } else {
    await page.getByRole('button', { name: 'Known customer' }).click()
    await page.getByLabel('Search customers').fill(who.email)
    await page.getByRole('region', { name: 'New order' }).getByTitle(who.email).click()
  }
  await page.getByRole('button', { name: 'Add Bee brush' }).click()
  const toast = page.getByText(/^Order \d+ is placed\.$/).first()
  const placed = page.waitForResponse(
    (response) =>
      response.url().endsWith('/api/counter/orders') && response.request().method() === 'POST',
  )
  await page.getByRole('button', { name: /^Place the order/ }).click()
  const { number } = (await (await placed).json()) as { number: string }
  await expect(page.getByText(`Order ${number} is placed.`)).toBeVisible()
  await expect(toast).toBeVisible()
  return number
}

/** No violation of WCAG 2.2 AA that axe can find, but for rules that make an exception axe cannot see. */
export async function expectAccessible(page: Page, except: string[] = []): Promise<void> {
  // What is looked at is the page that people use, not what stands for its parts until they are there.
  await expect(page.getByRole('status').filter({ hasText: /^Loading .*…$/ })).toHaveCount(0)
  // A notice that is fading out has no contrast that could be measured.
  await expect(page.locator('[data-sonner-toast]')).toHaveCount(0)
  const results = await new AxeBuilder({ page })
    // A mail is shown in a sandbox where no script runs, axe's neither; it is its writer's, not ours.
    .exclude('iframe')
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .disableRules(except)
    .analyze()
  const found = results.violations.map(
    ({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`,
  )
  expect(found).toEqual([])
}

/** Looks at all there is to know before the workflow on the screen goes live, and switches it on. */
export async function goLive(page: Page, label = 'Go live'): Promise<void> {
  await page.getByRole('button', { name: label }).click()
  await expect(page.getByRole('region', { name: 'Who comes in' })).toBeVisible()
  await page.getByRole('button', { name: label }).click()
}

/** A new workflow with one email, opened to be written. */
export async function openNewEmail(page: Page, name: string): Promise<void> {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill(name)
  await page.locator('[data-place="root:0"]').click()
  await page.getByRole('option', { name: 'Email:' }).click()
  await page.getByLabel('Name, for you and colleagues').fill('Hello')
  await page.getByRole('link', { name: 'Write and preview' }).click()
  await expect(page.getByRole('heading', { name: 'Hello', exact: true })).toBeVisible()
}
