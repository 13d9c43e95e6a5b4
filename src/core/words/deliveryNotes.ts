import { assertNever } from '../shared/assertNever.ts'
import type { Definition } from '../workflow/definition.ts'
import type { DeliveryNote } from '../workflow/ledgerEntry.ts'
import type { WordContext } from './conditions.ts'
import { dateWords } from './quantities.ts'
import { stepName } from './steps.ts'

/** What happened after a decision, as a sentence. */
export function deliveryWords(
  note: DeliveryNote,
  definition: Definition,
  context: WordContext,
): string {
  const name = note.step === null ? 'the end' : stepName(definition, note.step)
  switch (note.kind) {
    case 'sent':
      return `Sent “${name}” to ${note.to}`
    case 'failed':
      return `Could not send “${name}”: ${note.error}`
    case 'retries':
      return `Will try “${name}” again, attempt ${note.attempt} failed: ${note.error}`
    case 'unsure':
      return unsureWords(name, note.resent)
    case 'held':
      return `Held “${name}” until ${dateWords(note.until, context.zone)}: ${note.asked ? 'somebody asked for quiet' : 'quiet hours'}`
    case 'repaired':
      return REPAIRS[note.did](note.person, name)
    case 'stuck':
      return `Could not go on at “${name}”: ${note.error}`
    case 'moved':
      return `Moved from version ${note.from} to version ${note.to} by ${note.person}`
    case 'retired':
      return `Ended by ${note.person}: the workflow was retired`
    case 'takenOut':
      return `Taken out by ${note.person}`
    case 'hurried':
      return `${note.person} ended the wait`
    default:
      return assertNever(note, 'delivery note')
  }
}

function unsureWords(name: string, resent: boolean): string {
  return resent
    ? `The process stopped while sending “${name}”; sent again under the same Message-ID`
    : `Unsure whether “${name}” arrived: the process stopped while sending. A person has to decide`
}

const REPAIRS = {
  tryAgain: (person: string, name: string) => `${person} had “${name}” tried again`,
  giveUp: (person: string, name: string) => `${person} gave “${name}” up`,
} as const
