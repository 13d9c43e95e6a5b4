import type { FastifyReply, FastifyRequest } from 'fastify'
import { AppError } from '../backend/platform/errors.ts'

/**
 * How many requests that bring events are read and worked on at once. Each may be of 8 MB, and the database does a few of them at a
 * time: more would fill the memory and be done no sooner.
 */
const PLACES = 24
/** Of them for one shop, so that its storm leaves room for others. */
const PLACES_OF_A_SHOP = 16
const RETRY_AFTER_S = 2

/** Who has a place now. A server has one of these for all ways in which events come. */
export class Places {
  #taken = 0
  readonly #byShop = new Map<string, number>()

  /** Takes a place. Throws AppError `too_many`, with when to try again, where there is none. */
  take(whose: string): void {
    const own = this.#byShop.get(whose) ?? 0
    if (this.#taken >= PLACES || own >= PLACES_OF_A_SHOP) {
      throw new AppError('too_many', `More is being sent at once than can be taken in. Nothing of this request was kept; send it again in ${RETRY_AFTER_S} seconds.`, [], { retryAfterS: RETRY_AFTER_S }) // prettier-ignore
    }
    this.#taken += 1
    this.#byShop.set(whose, own + 1)
  }

  give(whose: string): void {
    const left = (this.#byShop.get(whose) ?? 0) - 1
    if (left > 0) this.#byShop.set(whose, left)
    else this.#byShop.delete(whose)
    this.#taken -= 1
  }
}

/**
 * Lets a request in when there is a place for it, before anything of its body is read, and gives the place back when it is answered
 * or whoever sent it has gone. Behind what says whose it is.
 */
export function takePlace(places: Places, whose: (request: FastifyRequest) => string) {
  return async (request: FastifyRequest, reply: FastifyReply): Promise<void> => {
    const shop = whose(request)
    places.take(shop)
    let isGiven = false
    const give = () => {
      if (!isGiven) places.give(shop)
      isGiven = true
    }
    reply.raw.once('finish', give)
    reply.raw.once('close', give)
  }
}
