/** What is chosen on the page, to be done with going live. */
export interface Choices {
  /** For triggers by date: those as well whose moment was earlier today. */
  includeToday: boolean
  /** The notice of the shop that is taken over. */
  takeOver: string | null
  letIn: LettingIn
}

/** Letting in who qualified in the last days; nobody for no days. */
export interface LettingIn {
  days: number
  perHour: number
}

export const NOBODY: LettingIn = { days: 0, perHour: 100 }
