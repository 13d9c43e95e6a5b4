/** Times a piece of work and returns how many things a second it did. */
export async function perSecond(count: number, work: () => Promise<void> | void): Promise<number> {
  const start = performance.now()
  await work()
  return count / ((performance.now() - start) / 1000)
}

const round = (value: number): string => Math.round(value).toLocaleString('en')

/** Prints a speed beside the one it is to be compared with, and their ratio. */
export function report(name: string, ours: number, besides: string, theirs: number): void {
  const ratio = (ours / theirs).toFixed(2)
  const left = `${name.padEnd(58)} ${round(ours).padStart(10)} /s`
  console.log(`${left}   ${besides.padEnd(32)} ${round(theirs).padStart(10)} /s   ratio ${ratio}`)
}

/** The items in pieces of at most `size`. */
export function* chunks<Item>(items: readonly Item[], size: number): Generator<Item[]> {
  for (let from = 0; from < items.length; from += size) yield items.slice(from, from + size)
}
