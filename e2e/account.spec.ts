import { expect, test } from '@playwright/test'
import { expectAccessible, signIn } from './support.ts'

test('a passkey is made on one’s account, and signs in without a password', async ({ page }) => {
  // The browser's own device, with a finger that is always there (WebDriver extension of Web Authentication Level 3, 12).
  const devtools = await page.context().newCDPSession(page)
  await devtools.send('WebAuthn.enable')
  const device = { protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true, isUserVerified: true } as const // prettier-ignore
  await devtools.send('WebAuthn.addVirtualAuthenticator', { options: device })

  await signIn(page)
  await page.goto('/account')
  const passkeys = page.getByRole('region', { name: 'Passkeys' })
  await passkeys.getByRole('button', { name: 'Add a passkey …' }).click()
  await passkeys.getByLabel('Your password').fill('first inspection day')
  await expectAccessible(page)
  await passkeys.getByRole('button', { name: 'Make it' }).click()
  await expect(passkeys.getByText('not used yet')).toBeVisible()

  await page.getByRole('button', { name: 'Sign out Maren' }).click()
  await page.getByRole('button', { name: 'Use a passkey instead' }).click()
  await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible()

  await page.goto('/account')
  await expect(passkeys.getByText(/^used /)).toBeVisible()
  await passkeys.getByRole('button', { name: /^Remove / }).click()
  await expect(passkeys.getByText(/^used /)).toBeHidden()
  await page.getByRole('button', { name: 'Sign out Maren' }).click()
  // The device still has it, but it opens nothing any more.
  await page.getByRole('button', { name: 'Use a passkey instead' }).click()
  await expect(page.getByRole('alert')).toContainText('This passkey is not known here')
})
