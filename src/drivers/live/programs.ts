import type { Db } from '../../backend/platform/db.ts'
import { findVersion } from '../../backend/workflows/index.ts'
import { compileProgram, type Program } from '../../core/workflow/compile.ts'

const MOST_KEPT = 500

/**
 * Compiled versions. A version never changes, so a copy in a process's memory is never stale; the
 * ones used least recently make room.
 */
export class Programs {
  readonly #kept = new Map<string, Program>()

  /** Throws AppError `not_found` when there is no such version. */
  async get(db: Db, shopId: string, workflowId: string, version: number): Promise<Program> {
    const key = JSON.stringify([shopId, workflowId, version])
    const program =
      this.#kept.get(key) ?? compileProgram(await findVersion(db, shopId, workflowId, version))
    this.#kept.delete(key)
    this.#kept.set(key, program)
    const oldest = this.#kept.keys().next().value
    if (this.#kept.size > MOST_KEPT && oldest !== undefined) this.#kept.delete(oldest)
    return program
  }
}
