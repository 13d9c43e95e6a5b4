/** Something that `yomble check` has looked at. */
export interface Finding {
  code: string
  /** `stops`: Yomble cannot run so; `warns`: it can, and something will go wrong. */
  level: 'ok' | 'warns' | 'stops'
  says: string
  /** What to do about it. */
  mend?: string
}

export const ok = (code: string, says: string): Finding => ({ code, level: 'ok', says })
export const warns = (code: string, says: string, mend: string): Finding => ({ code, level: 'warns', says, mend }) // prettier-ignore
export const stops = (code: string, says: string, mend: string): Finding => ({ code, level: 'stops', says, mend }) // prettier-ignore
