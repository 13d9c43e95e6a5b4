/** How a hand-over ended. */
export type HandOver =
  | { kind: 'sent' }
  /** Worth another try later. */
  | { kind: 'temporary'; error: string }
  /** The server said no for good; `badAddress` when it is the recipient that does not exist. */
  | { kind: 'permanent'; error: string; badAddress: boolean }
  /** The connection broke after the text had been sent: it may have arrived. */
  | { kind: 'unsure'; error: string }
