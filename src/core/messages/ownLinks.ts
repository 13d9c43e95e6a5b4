/** A link of a message, with how many people followed it. */
export interface FollowedLink {
  url: string
  people: number
}

/** So many links of one place, each of a person or two, are everybody's own: a parcel, a checkout. */
const LEAST_OWN = 3
const MOST_OF_EACH = 2
/** More links than this no message has. */
const MOST = 30

/**
 * The links of a message, those followed most first. Those that are another one for everybody ("parcels.example/102122")
 * become one, "https://parcels.example/…": as single ones they would say nothing.
 */
export function withoutOwn(links: readonly FollowedLink[]): FollowedLink[] {
  const places = new Map<string, FollowedLink[]>()
  for (const link of links) {
    const place = placeOf(link.url)
    places.set(place, [...(places.get(place) ?? []), link])
  }
  const folded = [...places].flatMap(([place, own]) => {
    const single = own.filter(({ people }) => people <= MOST_OF_EACH)
    if (single.length < LEAST_OWN) return own
    const people = single.reduce((sum, one) => sum + one.people, 0)
    return [...own.filter((one) => !single.includes(one)), { url: `${place}…`, people }]
  })
  return folded.toSorted((a, b) => b.people - a.people || (a.url < b.url ? -1 : 1)).slice(0, MOST)
}

/** An address up to its last part. */
const placeOf = (url: string): string => url.slice(0, url.lastIndexOf('/') + 1)
