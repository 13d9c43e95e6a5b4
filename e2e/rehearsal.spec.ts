import { expect, test } from '@playwright/test'
import { expectAccessible, signIn } from './support.ts'

test('an order put in before the send is seen on the way, by mouse and by keyboard', async ({
  page,
}) => {
  await signIn(page)
  await page.goto('/recipes')
  await page.getByRole('button', { name: 'Use the recipe Open checkout' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Open checkout')
  await page.getByRole('link', { name: 'Rehearse' }).click()
  const story = page.getByRole('region', { name: 'What came of it' })
  const way = page.getByLabel('The way they take')
  await expect(story).toContainText('Decided to send')
  await expect(way).toContainText('taken')
  await expectAccessible(page)

  // One minute before the first message is due it is sent to nobody.
  await page.getByRole('button', { name: 'orders again' }).click()
  await page.getByLabel('In what: orders again').selectOption('minutes')
  await page.getByLabel('How long after the beginning: orders again').fill('1')
  await expect(story).toContainText('Left before')
  await expect(story).not.toContainText('Decided to send')
  await expect(way).toContainText('left')

  // Kept as an example, and downloaded with its workflow.
  await page.getByLabel('Keep this one as').fill('Orders again at once')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('region', { name: 'Examples' })).toContainText('Orders again at once')
  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: 'As a file' }).click()
  expect((await download).suggestedFilename()).toBe('open-checkout.json')

  // By keyboard alone it is taken out again, and somebody else is made up.
  await page.getByRole('button', { name: 'Take out: orders again' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText('Nothing else happens.')).toBeVisible()
  await expect(story).toContainText('Decided to send')
  await page.getByLabel('Marketing by email').focus()
  await page.keyboard.press('n')
  await expect(page.getByLabel('Marketing by email')).toHaveValue('no')
  await expect(way).toContainText('no consent')
})
