import type { Definition } from '../../workflow/definition.ts'
import { updateStep } from '../../workflow/edit.ts'
import { allSteps } from '../../workflow/lists.ts'
import { type EmailStep, type NoteStep, type Step, isMail } from '../../workflow/steps.ts'
import { stops, type Finding } from '../finding.ts'

/** From whom a shop's messages may come, and who its staff are. */
export interface AddressBook {
  /** The first is the shop's own. */
  senders: readonly Sender[]
  groups: readonly StaffGroup[]
  /** Where the shop is; empty while nobody has said so. */
  postalAddress: string
}

/** Somebody whom messages come from. */
export interface Sender {
  address: string
  /** The name it is usually shown with. */
  name: string
  /** Whoever reads mail at the address has agreed to it. */
  verified: boolean
}

/** Staff who get the same notes and copies. */
export interface StaffGroup {
  key: string
  name: string
  addresses: readonly string[]
}

const ENVELOPE = { kind: 'envelope' } as const

/** What a draft's senders and recipients lack in the shop's address book. */
export function addressFindings({ steps }: Definition, book: AddressBook): Finding[] {
  const all = allSteps(steps)
  return [...postalFindings(all, book), ...all.flatMap((step) => ofStep(step, book))]
}

function ofStep(step: Step, book: AddressBook): Finding[] {
  if (!isMail(step)) return []
  const ofSender = step.kind === 'email' ? senderFindings(step, book) : []
  return [...ofSender, ...groupFindings(step, book)]
}

/** Mail that sells has to say where the shop is; said once, since it is written in one place. */
function postalFindings(steps: readonly Step[], { postalAddress }: AddressBook): Finding[] {
  if (postalAddress.trim() !== '') return []
  const first = steps.find((step) => step.kind === 'email' && step.purpose === 'marketing')
  if (first?.kind !== 'email') return []
  const place = { kind: 'step', key: first.key } as const
  const title = 'Nobody has said where the shop is.'
  const detail = `“${first.name}” is marketing, and such mail has to carry the shop’s postal address. Write it under Settings, Brand.`
  return [{ ...stops('postal-address', place, title, detail), part: ENVELOPE }]
}

/** True when both are the same mailbox. Case is not minded, as nearly all servers do (RFC 5321, 2.4). */
export const sameAddress = (a: string, b: string): boolean =>
  a.trim().toLowerCase() === b.trim().toLowerCase()

function senderFindings(step: EmailStep, { senders }: AddressBook): Finding[] {
  const { address } = step.sender
  const place = { kind: 'step', key: step.key } as const
  const [own] = senders
  // One that is missing is found without the address book.
  if (address.trim() === '' || !own) return []
  const known = senders.find((one) => sameAddress(one.address, address))
  if (known?.verified) return []
  const repair = {
    label: `Send it from ${own.address}`,
    mend: (definition: Definition) =>
      updateStep(definition, step.key, (before: Step) =>
        before.kind === 'email'
          ? { ...before, sender: { ...before.sender, address: own.address } }
          : before,
      ),
  }
  const title = known
    ? `${address} is not confirmed yet.`
    : `${address} is none of the shop’s senders.`
  const detail = known
    ? `“${step.name}” comes from it. Whoever reads its mail confirms it by the link we have sent there.`
    : `“${step.name}” comes from it. Add it in the settings, or send from another one.`
  return [{ ...stops('sender-unknown', place, title, detail), part: ENVELOPE, repair }]
}

function groupFindings(step: EmailStep | NoteStep, { groups }: AddressBook): Finding[] {
  const place = { kind: 'step', key: step.key } as const
  return (step.groups ?? []).flatMap((key) => {
    const group = groups.find((one) => one.key === key)
    if (group && group.addresses.length > 0) return []
    const title = group
      ? `There is nobody in “${group.name}”.`
      : `A group of staff that “${step.name}” goes to is gone.`
    const detail = group
      ? 'Add somebody in the settings, or take the group out.'
      : 'Take it out, and choose another.'
    const mend = (before: Definition) =>
      updateStep(before, step.key, (one) => withoutGroup(one, key))
    const repair = { label: 'Take it out', mend }
    return [{ ...stops(`group-${key}`, place, title, detail), part: ENVELOPE, repair }]
  })
}

function withoutGroup(step: Step, key: string): Step {
  if (!isMail(step)) return step
  const { groups = [], ...rest } = step
  const left = groups.filter((one) => one !== key)
  return left.length > 0 ? { ...rest, groups: left } : rest
}

/** The addresses of groups and those that stand by themselves, each once. */
export function addressesOf(
  single: readonly string[],
  keys: readonly string[] | undefined,
  groups: readonly StaffGroup[],
): string[] {
  const all = [
    ...single,
    ...groups.filter(({ key }) => keys?.includes(key)).flatMap(({ addresses }) => addresses),
  ]
  return all.filter((one, index) => all.findIndex((other) => sameAddress(one, other)) === index)
}
