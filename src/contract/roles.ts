import { z } from 'zod'

/** What people may do: owners everything, marketers build and switch on, writers write, staff look and answer. */
export const ROLES = ['owner', 'marketer', 'writer', 'staff'] as const
export const role = z.enum(ROLES)
export type Role = z.infer<typeof role>

export const ROLE_WORDS: Readonly<Record<Role, { name: string; may: string }>> = {
  owner: { name: 'Owner', may: 'do everything, and say who else may what' },
  marketer: { name: 'Marketer', may: 'build and switch on workflows, write to people, change settings' },
  writer: { name: 'Writer', may: 'write messages and designs; who gets them, and going live, is for others' },
  staff: { name: 'Staff', may: 'look, act at the counter, answer what needs somebody' },
} // prettier-ignore

/** May build workflows, switch them on and change settings. */
export const mayBuild = (who: Role): boolean => who === 'owner' || who === 'marketer'

/** May write what stands in messages. */
export const mayWrite = (who: Role): boolean => mayBuild(who) || who === 'writer'

/** May say who else may what, make keys, and erase people. */
export const mayOwn = (who: Role): boolean => who === 'owner'
