import { z } from 'zod'

/** What an API key may do. */
export const keyScope = z.enum(['events', 'read', 'workflows', 'people', 'settings'])
export type KeyScope = z.infer<typeof keyScope>

export const SCOPE_WORDS: Readonly<Record<KeyScope, { name: string; about: string }>> = {
  events: {
    name: 'Send events',
    about: 'and reports of mail systems, and ask whether all is done',
  },
  read: {
    name: 'Read',
    about: 'workflows, results, messages, settings; nothing about single people',
  },
  workflows: { name: 'Change workflows', about: 'their drafts, designs and states' },
  people: {
    name: 'People',
    about: 'find, read, change and erase them; the ledger; files in and out',
  },
  settings: { name: 'Change settings', about: 'brand, rules, addresses, connections; never keys' },
}
