import { LRUCache } from 'lru-cache'
import type { Db } from '../../backend/platform/db.ts'
import { findVersion } from '../../backend/workflows/index.ts'
import { compileProgram, type Program } from '../../core/workflow/compile.ts'

const MOST_KEPT = 500

/**
 * Compiled versions. A version never changes, so a copy in a process's memory is never stale; the
 * ones used least recently make room.
 */
export class Programs {
  readonly #kept = new LRUCache<string, Program>({ max: MOST_KEPT })

  /** Throws AppError `not_found` when there is no such version. */
  async get(db: Db, shopId: string, workflowId: string, version: number): Promise<Program> {
    const key = JSON.stringify([shopId, workflowId, version])
    const kept = this.#kept.get(key)
    if (kept) return kept
    const program = compileProgram(await findVersion(db, shopId, workflowId, version))
    this.#kept.set(key, program)
    return program
  }
}
