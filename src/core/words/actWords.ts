import { assertNever } from '../shared/assertNever.ts'
import type { ActEntry, PersonAct } from '../people/act.ts'
import type { WordContext } from './conditions.ts'
import { dateWords } from './quantities.ts'

/** What somebody of the shop did to a person, as a sentence. */
export const actEntryWords = ({ person, act }: ActEntry, context: WordContext): string =>
  `${person} ${actWords(act, context)}`

function actWords(act: PersonAct, { zone }: WordContext): string {
  switch (act.did) {
    case 'quiet':
      return act.until === null
        ? 'let marketing leave to them again'
        : `asked for quiet until ${dateWords(act.until, zone)}: no marketing before`
    case 'consent': {
      const way = act.channel === 'email' ? 'email' : 'text message'
      return `noted a ${act.given ? 'yes' : 'no'} to marketing by ${way}: ${act.how}`
    }
    case 'tag':
      return act.change === 'add' ? `put the tag “${act.name}” on them` : `took the tag “${act.name}” off them`
    case 'list':
      return act.change === 'add' ? `put them on the list “${act.name}”` : `took them off the list “${act.name}”`
    case 'revive':
      return `had ${act.address} written to again, from which mail had come back`
    case 'erase':
      return 'erased what identified them'
    default:
      return assertNever(act, 'act')
  }
} // prettier-ignore
