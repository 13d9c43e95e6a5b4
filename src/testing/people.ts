import { hashPassword, keepUser } from '../backend/accounts/index.ts'
import type { Config } from '../backend/platform/config.ts'
import type { Database } from '../backend/platform/db.ts'
import { LINK_SECRET, SHOP } from './world.ts'

/** What everybody in the tests signs in with. */
export const PASSWORD = 'first inspection day'

/** Adds Maren, a marketer, and Aoife, who is staff. */
export async function addPeople(db: Database, shopId = SHOP): Promise<void> {
  const passwordHash = await hashPassword(PASSWORD)
  const maren = {
    id: 'm',
    email: 'maren@combwright.example',
    name: 'Maren',
    role: 'owner',
  } as const
  const aoife = {
    id: 's',
    email: 'aoife@combwright.example',
    name: 'Aoife',
    role: 'staff',
  } as const
  for (const person of [maren, aoife]) await keepUser(db, shopId, { ...person, passwordHash })
}

/** The configuration of a server or worker under test. */
export function testConfig(over: Pick<Config, 'DATABASE_URL'> & Partial<Config>): Config {
  return {
    SMTP_URL: 'smtp://127.0.0.1:1',
    SMS_URL: 'http://127.0.0.1:1/messages',
    TRUST_PROXY: false,
    HOOKS_ALLOW_PRIVATE: true,
    HOST: '127.0.0.1',
    PORT: 0,
    LINK_SECRET,
    FORMER_LINK_SECRETS: [],
    CELLS: {},
    SESSION_IDLE_HOURS: 336,
    SESSION_LONGEST_HOURS: 720,
    LOG_LEVEL: 'silent',
    ...over,
  }
}
