/** The ink of a row's path. */
export function inkOf(row: number): string {
  return `var(--ink-${row % 6})`
}
