import { expect, test } from '@playwright/test'
import { expectAccessible, goTo, moveClock, placeOrder, signIn } from './support.ts'

test('who qualifies already is let in with going live, so many an hour, and the rest are stopped', async ({
  page,
}) => {
  await signIn(page)
  for (const name of ['first', 'second', 'third']) {
    await placeOrder(page, { email: `${name}.waiting@example.org`, isNew: true })
  }
  await goTo(page, 'Workflows')
  await page.getByRole('button', { name: 'New workflow' }).click()
  await page.getByLabel('Name', { exact: true }).fill('For those already there')
  await page.locator('[data-place="root:0"]').click()
  await page.getByRole('option', { name: 'Email:' }).click()
  await page.getByLabel('Subject', { exact: true }).fill('For you as well')
  await page.getByLabel('Text', { exact: true }).fill('Hello')
  await page.getByLabel('Purpose').selectOption('transactional: part of the order')
  await page.getByRole('button', { name: 'Go live' }).click()

  await expect(page.getByRole('heading', { name: 'Before For those already there goes live' })).toBeVisible() // prettier-ignore
  const whom = page.getByRole('combobox', { name: 'Let in' })
  await whom.selectOption('whose time it was in the last 24 hours')
  const named = page.getByRole('table', { name: 'Who would be let in' })
  await expect(named.getByRole('row').filter({ hasText: 'New message' }).first()).toBeVisible()
  await expectAccessible(page)
  await page.getByRole('spinbutton').fill('1')
  await page.getByRole('button', { name: 'Go live' }).click()
  await expect(page.getByText(/Version 1 is live. \d+ people are being let in./)).toBeVisible()
  await expect(page.getByRole('link', { name: /letting people in: 1 of/ })).toBeVisible()

  await moveClock(page, '+1 h')
  await page.getByRole('link', { name: /letting people in: 2 of/ }).click()
  await page.getByRole('button', { name: 'Stop letting people in' }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByText(/2 of \d+ let in, then stopped/)).toBeVisible()
  await goTo(page, 'Ledger')
  await expect(page.getByText(/let in by Maren because they qualified already/).first()).toBeVisible() // prettier-ignore
  await goTo(page, 'Workflows')
  await page.getByRole('link', { name: 'For those already there' }).click()
  // Other tests place orders too.
  await page.getByRole('button', { name: 'Pause', exact: true }).click()
  await page.getByRole('alertdialog').getByRole('button', { name: 'Pause' }).click()
})
