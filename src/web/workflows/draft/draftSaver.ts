import { problemPlace, type ProblemPlace } from '../../../core/words/problemPlace.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { ApiError } from '../../ui/data/api.ts'
import type { Kept } from './keptDraft.ts'

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'saving' }
  /** The server is away: the draft is kept in this browser and sent when it is back. */
  | { kind: 'keptHere'; message: string }
  /** The server cannot take the draft as it is; what is typed next is tried again. */
  | { kind: 'refused'; message: string; problems: readonly PlacedProblem[] }
  | { kind: 'conflict'; message: string }

/** What cannot be taken of a draft: where, and what is wrong, in words. */
export type PlacedProblem = ProblemPlace & { message: string }

export interface SaverOptions {
  /** What the server has. */
  draft: Definition
  revision: number
  /** Sends a draft that was made on a revision; resolves to the new revision. */
  put: (revision: number, definition: Definition) => Promise<number>
  /** Keeps a draft in this browser, or forgets the one that is kept. */
  keep: (kept: Kept | null) => void
  saveAfterMs?: number
  retryAfterMs?: number
}

/**
 * Saves a draft while it is typed: at once in this browser, on the server when typing pauses, one
 * save at a time, each on the revision of the one before. Tries again while the server is away.
 */
export class DraftSaver {
  readonly #options: SaverOptions
  readonly #listeners = new Set<() => void>()
  #state: SaveState = { kind: 'saved' }
  #onServer: Definition
  #latest: Definition
  #revision: number
  #saving: Promise<void> | null = null
  #sending: Definition | null = null
  #timer: ReturnType<typeof setTimeout> | undefined

  constructor(options: SaverOptions) {
    this.#options = options
    this.#onServer = options.draft
    this.#latest = options.draft
    this.#revision = options.revision
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }

  readonly state = (): SaveState => this.#state

  /** True when a draft is the last that was offered. */
  knows(definition: Definition): boolean {
    return definition === this.#latest
  }

  /** Takes note of what is on the screen. */
  offer(definition: Definition): void {
    if (definition === this.#latest) return
    this.#latest = definition
    this.#keep()
    if (this.#state.kind === 'saved') this.#set({ kind: 'saving' })
    this.#tryIn(this.#options.saveAfterMs ?? 500)
  }

  /** Saves now; resolves to the revision the server has then. Throws what the server answers. */
  async flush(): Promise<number> {
    clearTimeout(this.#timer)
    this.#saving ??= this.#saveAll()
      .catch((error: Error) => {
        this.#failed(error)
        throw error
      })
      .finally(() => {
        this.#saving = null
      })
    await this.#saving
    return this.#revision
  }

  /** Saves what is open, when the screen goes away. Failing that, it is kept in this browser. */
  leave(): void {
    if (this.#latest !== this.#onServer) this.#tryIn(0)
  }

  /** True when somebody else has saved a later draft and nothing of this one is open. */
  isBehind(revision: number): boolean {
    return (
      this.#state.kind === 'saved' && this.#latest === this.#onServer && revision > this.#revision
    )
  }

  /** Takes the server's draft in place of this one. */
  adopt(definition: Definition, revision: number): void {
    clearTimeout(this.#timer)
    this.#latest = definition
    this.#onServer = definition
    this.#revision = revision
    this.#options.keep(null)
    this.#set({ kind: 'saved' })
  }

  /** Puts this draft in the place of a newer one that somebody else has saved. */
  async replace(theirs: Definition, revision: number): Promise<void> {
    this.#onServer = theirs
    this.#revision = revision
    await this.flush()
  }

  #tryIn(delayMs: number): void {
    clearTimeout(this.#timer)
    // What fails is told by the state.
    this.#timer = setTimeout(() => this.flush().catch(() => {}), delayMs)
  }

  #failed(error: Error): void {
    this.#set(failureState(error, this.#latest))
    if (this.#state.kind === 'keptHere') this.#tryIn(this.#options.retryAfterMs ?? 3000)
  }

  async #saveAll(): Promise<void> {
    while (this.#latest !== this.#onServer) {
      const definition = this.#latest
      if (this.#state.kind === 'saved') this.#set({ kind: 'saving' })
      this.#sending = definition
      this.#revision = await this.#options.put(this.#revision, definition).finally(() => {
        this.#sending = null
      })
      this.#onServer = definition
      // What has been typed meanwhile builds on the new revision.
      if (this.#latest !== definition) this.#keep()
    }
    this.#options.keep(null)
    this.#set({ kind: 'saved' })
  }

  #keep(): void {
    const [revision, definition, sending] = [this.#revision, this.#latest, this.#sending]
    this.#options.keep({ revision, definition, sending })
  }

  #set(state: SaveState): void {
    this.#state = state
    for (const listener of this.#listeners) listener()
  }
}

function failureState(error: Error, definition: Definition): SaveState {
  const { message } = error
  if (!(error instanceof ApiError)) return { kind: 'keptHere', message }
  if (error.status === 409) return { kind: 'conflict', message }
  const problems = error.body.problems.map(({ path, message: what }) => {
    return { ...problemPlace(definition, path.replace(/^definition\./, '')), message: what }
  })
  return { kind: 'refused', message, problems }
}
