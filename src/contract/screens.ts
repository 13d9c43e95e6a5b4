/** With what the addresses of screens begin; the browser finds its own way from there. Nothing else is one. */
export const SCREENS: ReadonlySet<string> = new Set([
  '',
  'sign-in',
  'password',
  'today',
  'workflows',
  'recipes',
  'people',
  'ledger',
  'runs',
  'mailbox',
  'counter',
  'coupons',
  'reorders',
  'settings',
  'account',
])
