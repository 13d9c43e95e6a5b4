import type { Definition } from '../core/workflow/definition.ts'

interface Drafted {
  id: string
  draft: Definition
  draftRevision: number
}

/**
 * Drafts as they were read last: for as long as nobody saves one it is the same object each time, and
 * whatever has been found out about it (`remembered`) need not be found out again.
 */
export class KeptDrafts {
  readonly #byShop = new Map<string, ReadonlyMap<string, Drafted>>()

  /** All drafts of a shop, in the order they are given. What is not among them is forgotten. */
  of(shopId: string, rows: readonly Drafted[]): Definition[] {
    const before = this.#byShop.get(shopId)
    const kept = rows.map((row) => {
      const known = before?.get(row.id)
      return known?.draftRevision === row.draftRevision ? known : row
    })
    this.#byShop.set(shopId, new Map(kept.map((row) => [row.id, row])))
    return kept.map(({ draft }) => draft)
  }
}
