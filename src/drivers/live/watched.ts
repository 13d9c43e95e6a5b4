import { channel } from 'node:diagnostics_channel'
import type { HandOver } from '../../backend/platform/handOver.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'

/** What a process that sends tells whoever counts in it; nobody else, and nothing of people. */
export interface Watched {
  /** A message was handed over, or was to be. */
  handedOver: { channel: string; result: HandOver['kind'] }
  /** A gate was closed for one. */
  passedOver: { reason: string }
}

const CHANNELS = { handedOver: channel('yomble:handedOver'), passedOver: channel('yomble:passedOver') } as const // prettier-ignore

/** Tells it. Costs next to nothing where nobody listens. */
export const tell = <Name extends keyof Watched>(name: Name, what: Watched[Name]): void =>
  CHANNELS[name].publish(what)

/** Listens from now on. */
export function listen<Name extends keyof Watched>(
  name: Name,
  hear: (what: Watched[Name]) => void,
): void {
  CHANNELS[name].subscribe((message) => hear(message as Watched[Name]))
}

/** Tells of the gates that were closed among some entries. */
export function tellPassedOver(entries: readonly LedgerEntry[]): void {
  for (const entry of entries) {
    if (entry.kind === 'skipped') tell('passedOver', { reason: entry.reason.code })
  }
}
