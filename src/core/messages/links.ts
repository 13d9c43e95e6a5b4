import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import type { MessageStep } from '../workflow/steps.ts'
import { isOwnFile } from './ownFiles.ts'
import { findMergeField, templateParts, type FieldPart } from './mergeFields.ts'

/** What is wrong with where a link leads. */
export interface LinkProblem {
  /** Begins with what the link belongs to: "leads nowhere". */
  says: string
  detail: string
  /** Where it most likely is to lead; null where that cannot be told. */
  better: string | null
}

/** True for an address that is not written yet. */
export const isNowhere = (text: string): boolean => /^(https?:\/\/)?$/i.test(text.trim())

/** True for what mail programs open: the address of a page, a mailbox or a telephone (RFC 3986 schemes). */
export const isAddress = (text: string): boolean =>
  /^(https?:\/\/[^\s/]|mailto:[^\s@]+@|tel:\+?\d)/i.test(text.trim())

/** An address as it was meant: "x.example/a" is a page, "a@x.example" a mailbox. Null for all else. */
export function meantAddress(text: string): string | null {
  const bare = text.trim()
  if (/^[^\s@/:]+@[^\s@/:]+\.[a-z]{2,}$/i.test(bare)) return `mailto:${bare}`
  return /^([a-z0-9-]+\.)+[a-z]{2,}([/?#]\S*)?$/i.test(bare) ? `https://${bare}` : null
}

/** Where the shop most likely is: at the address its messages come from. Null without one. */
export function siteOf(senderAddress: string): string | null {
  const domain = senderAddress.split('@')[1]?.trim()
  return domain ? `https://${domain}` : null
}

/** Where the shop is, as far as a message or those beside it tell by whom they come from. */
export function siteFor(message: MessageStep, { steps }: Pick<Definition, 'steps'>): string | null {
  if (message.kind === 'email') return siteOf(message.sender.address)
  const mail = allSteps(steps).find((step) => step.kind === 'email')
  return mail ? siteOf(mail.sender.address) : null
}

/**
 * What keeps a link from being opened by everyone who gets the message; null where nothing does. `site`
 * is where the shop is.
 */
export function linkProblem(href: string, site: string | null): LinkProblem | null {
  const template = href.trim()
  if (isOwnFile(template)) return null
  if (isNowhere(template)) {
    return { says: 'leads nowhere', detail: 'Say where it leads.', better: null }
  }
  const [first] = templateParts(template)
  if (typeof first === 'object') return fieldProblem(first, template, site)
  // An address may go on with a merge field.
  if (isAddress(template) || /^https?:\/\/\{\{/i.test(template)) return null
  return {
    says: `leads to “${template}”, which is no web address`,
    detail: 'One begins with https://, or with mailto: for a mailbox.',
    better: meantAddress(template),
  }
}

function fieldProblem(part: FieldPart, template: string, site: string | null): LinkProblem | null {
  const field = findMergeField(part.key)
  // One that does not exist is found for itself.
  if (!field) return null
  if (!field.isLink) {
    const says = `leads to the ${field.label}, which is no web address`
    return { says, detail: 'Begin with https://, or take a field that is a link.', better: null }
  }
  if (part.fallback === null || isAddress(part.fallback)) return null
  return {
    says: `leads to “${part.fallback}” where the ${field.label} is not known`,
    detail: 'What stands in for an address has to be one.',
    better: site && template.replace(/(\|\s*default\s*:\s*)("[^"]*"|'[^']*')/, `$1"${site}"`),
  }
}
