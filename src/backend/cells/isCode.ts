/** Whether an error, or what caused it, has this code of PostgreSQL's. */
export function isCode(error: unknown, code: string): boolean {
  for (let cause: unknown = error; cause instanceof Error; cause = cause.cause) {
    if ('code' in cause && cause.code === code) return true
  }
  return false
}
