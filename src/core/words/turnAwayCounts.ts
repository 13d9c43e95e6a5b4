import type { TurnAwayReason } from '../workflow/decision.ts'
import { TOO_OLD_DAYS } from '../workflow/start.ts'

/** Why people are turned away, where they are counted: "12: an exclusion holds". */
export const TURNED_AWAY_WORDS: Readonly<Record<TurnAwayReason['code'], string>> = {
  tooOld: `it happened more than ${TOO_OLD_DAYS} days before it arrived`,
  filter: 'the trigger filter does not hold',
  enteredBefore: 'they were in it before',
  enteredTooRecently: 'they were in it too short a while ago',
  alreadyInProgress: 'they are in it now',
  exclusion: 'an exclusion holds',
}
