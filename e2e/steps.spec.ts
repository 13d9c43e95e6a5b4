import { expect, test, type Page } from '@playwright/test'
import { expectAccessible, goLive, goTo, signIn } from './support.ts'

async function add(page: Page, label: string): Promise<void> {
  await page.locator('[data-place^="root:"]').last().click()
  await page.getByRole('option', { name: `${label}:` }).click()
}

/** Clears what adds up on the screen so that the next thing can be chosen. */
const closeInspector = (page: Page) => page.getByRole('button', { name: 'Whole workflow' }).click()

test('every kind of step can be put in, filled in, read and published', async ({ page }) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('One of each')
  await page.getByRole('button', { name: /^Starts when/ }).click()
  await page.getByLabel('Event').selectOption({ label: 'order delivered' })

  await add(page, 'Wait')
  await page.getByLabel('then go on at a local time').check()
  await page.getByLabel('Local time of the recipient').fill('10:30')
  await page.getByRole('button', { name: 'Sat', exact: true }).click()
  await page.getByRole('button', { name: 'Sun', exact: true }).click()
  await add(page, 'Wait until a date')
  await page.getByLabel('If that is past or not known').selectOption('go on at once')
  await add(page, 'Coupon')
  await page.getByLabel('Name', { exact: true }).fill('Ten off')
  await page.getByLabel('Worth').selectOption('a percentage')
  await add(page, 'Text message')
  await page.getByLabel('Name, for you and colleagues').fill('A short text')
  await page.getByLabel('Text', { exact: true }).fill('Hello ')
  await page.getByRole('button', { name: 'Put a merge field into Text' }).click()
  await page.getByRole('option', { name: /^coupon code/ }).click()
  await add(page, 'Staff note')
  await page.getByLabel('Name, for you and colleagues').fill('Tell Tiago')
  await page.getByLabel('And to addresses of staff').fill('tiago@combwright.example')
  await page.getByLabel('Subject', { exact: true }).fill('It arrived')
  await page.getByLabel('Text', { exact: true }).fill('Order {{ order.number }}')
  await add(page, 'Tag')
  await page.getByLabel('Tag', { exact: true }).fill('arrived')
  await add(page, 'List')
  await page.getByLabel('List', { exact: true }).fill('Delivered')
  await add(page, 'Property')
  await page.getByLabel('Name, in small letters').fill('Last parcel')
  await expect(page.getByLabel('Name, in small letters')).toHaveValue('last_parcel')
  await page.getByLabel('Value', { exact: true }).fill('whole')
  await add(page, 'Webhook')
  await page.getByLabel('Address that is called').fill('https://hooks.example.org/in')
  await expectAccessible(page)
  await add(page, 'Experiment')
  await page.getByRole('button', { name: 'Add an arm' }).click()
  await page.getByLabel('holdout: gets nothing').check()
  await page.getByLabel('Weight').fill('10')
  await add(page, 'Wait for an event')
  await page.getByLabel('Event', { exact: true }).selectOption({ label: 'review submitted' })
  await page.getByRole('button', { name: 'Add a condition' }).click()
  await page.getByLabel('Value', { exact: true }).fill('4')
  await page.getByRole('button', { name: 'Path: Review submitted' }).click()
  await expect(page.getByRole('heading', { name: 'Review submitted' })).toBeVisible()
  await expectAccessible(page)
  await closeInspector(page)

  await expect(page.getByLabel('Go-live check').getByRole('listitem')).toHaveText([
    /Nobody leaves when the order is refunded/,
    /Whoever writes a bad review is written to/,
    /“Ten off” is given after every order/,
    /“A short text” does not say how to end such texts/,
  ])
  await goLive(page)
  await expect(page.getByText(/^Live\s*v1$/)).toBeVisible()
  await page.reload()
  for (const name of [
    'Wait until the next day, 10:30 Mon–Fri',
    'Wait until a date',
    'Coupon: Ten off',
    'Text message: A short text',
    'Staff note: Tell Tiago',
    '+ arrived',
    '+ Delivered',
    'last_parcel = whole',
    'Webhook: New webhook',
    'Path: Arm C',
    'Path: Not in 7 d',
  ]) {
    await expect(page.getByRole('button', { name, exact: true })).toBeVisible()
  }
  await page.getByRole('button', { name: 'Retire', exact: true }).click()
  await page.getByRole('button', { name: 'Retire it' }).click()
  await expect(page.getByText(/^Retired/)).toBeVisible()
})

test('a workflow goes by a date, asks about contents and other workflows, and says so in words', async ({
  page,
}) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Before it renews')
  await page.getByRole('button', { name: /^Starts when/ }).click()
  await page.getByLabel('What starts it').selectOption('a date is near')
  await page.getByLabel('Days', { exact: true }).fill('3')
  await page.getByRole('button', { name: 'Add a condition' }).click()
  await page.getByLabel('Which fact', { exact: true }).selectOption('renews automatically')
  await expect(page.getByRole('button', { name: /^Starts when/ })).toContainText(
    '3 days before “next payment”, 09:00 local time',
  )
  await page.getByLabel('Date', { exact: true }).selectOption('booked date')
  await page.getByLabel('What is asked').selectOption('what was ordered')
  await page.getByLabel('How it contains').selectOption('contains only')
  await page.getByLabel('Add to category').fill('Tools')
  await page.keyboard.press('Enter')
  await expectAccessible(page)
  await expect(page.getByRole('button', { name: /^Starts when/ })).toContainText(
    'it contains only Tools & smokers',
  )
  await page.getByRole('button', { name: /^Leaves before/ }).click()
  await page.getByRole('button', { name: 'Add exclusion' }).click()
  await page.getByLabel('What is asked').selectOption('other workflows')
  await expect(page.getByRole('button', { name: /^Leaves before/ })).toContainText(
    'is in any workflow now',
  )
})

test('people are put in by hand, and what failed is mended and tried again', async ({ page }) => {
  await signIn(page)
  await goTo(page, 'Counter')
  await page.getByRole('button', { name: 'Somebody new' }).click()
  await page.getByLabel('Email address').fill('bounce.hand@example.net')
  await page.getByRole('button', { name: 'Add Bee brush' }).click()
  await page.getByRole('button', { name: /^Place the order/ }).click()
  await expect(page.getByText(/is placed\.$/)).toBeVisible()

  await goTo(page, 'Workflows')
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('By hand only')
  await page.getByRole('button', { name: /^Starts when/ }).click()
  await page.getByLabel('What starts it').selectOption('somebody is put in by hand')
  await add(page, 'Email')
  await page.getByLabel('Name, for you and colleagues').fill('A letter by hand')
  await page.getByLabel('Subject', { exact: true }).fill('By hand')
  await page.getByLabel('Text', { exact: true }).fill('Hello')
  await page.getByLabel('Purpose').selectOption('transactional: part of the order')
  await goLive(page)
  await expect(page.getByText(/^Live\s*v1$/)).toBeVisible()
  await page.getByText('Put people in by hand').click()
  await page.getByLabel(/^Addresses or ids/).fill('bounce.hand@example.net')
  await page.getByRole('button', { name: 'Put 1 in' }).click()
  await expect(page.getByText('1 run started.')).toBeVisible()

  await goTo(page, 'Ledger')
  await page.getByRole('button', { name: 'Needs attention', exact: true }).click()
  const list = page.getByRole('region', { name: 'Needs attention now' })
  const row = list.getByRole('row').filter({ hasText: 'A letter by hand' })
  await expect(row).toContainText('5.1.1')
  await expectAccessible(page)
  await row.getByRole('button', { name: 'Give up' }).click()
  await expect(row).toHaveCount(0)
})
