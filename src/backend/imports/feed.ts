import { SaxesParser } from 'saxes'

/** A feed that cannot be read, with what is wrong. */
export class FeedError extends Error {}

/** What things are called in RSS 2.0 and in Atom (RFC 4287). */
const ITEMS: ReadonlySet<string> = new Set(['item', 'entry'])

/** More than that stands between the ends of no two elements. */
const MOST_QUIET = 8 * 1024 * 1024

/**
 * The things of a feed of products: RSS 2.0 or Atom, with what each tells by the name of its element without a prefix (`g:price` and
 * `price` are the same). Only what stands directly in a thing counts. No more than one is in memory; entities of its own are
 * not known, so that none grows. Throws FeedError.
 */
export async function* feedItems(
  texts: AsyncIterable<string>,
  mostLength: number,
): AsyncGenerator<Map<string, string>> {
  const ready: Map<string, string>[] = []
  const parser = new SaxesParser()
  let problem: Error | null = null
  let item: Map<string, string> | null = null
  let name: string | null = null
  let depth = 0
  let length = 0
  let quiet = 0
  const tell = (text: string): void => {
    if (!item || name === null || depth !== 1) return
    length += text.length
    if (length > mostLength) problem ??= new FeedError('is longer than any product')
    else item.set(name, `${item.get(name) ?? ''}${text}`)
  }
  parser.on('error', (error) => {
    problem ??= new FeedError(`is no XML: ${error.message}`)
  })
  parser.on('opentag', ({ name: tag, attributes }) => {
    const own = bare(tag)
    if (item === null) {
      if (!ITEMS.has(own)) return
      item = new Map()
      depth = 0
      length = 0
      return
    }
    depth += 1
    if (depth > 1) return
    // Of several, such as further pictures, the first counts.
    name = item.has(own) ? null : own
    // Atom links by an attribute.
    if (name !== null && attributes['href']) tell(attributes['href'])
  })
  parser.on('text', tell)
  parser.on('cdata', tell)
  parser.on('closetag', () => {
    quiet = 0
    if (item === null) return
    if (depth > 0) {
      depth -= 1
      return
    }
    ready.push(item)
    item = null
  })
  for await (const text of texts) {
    // What comes without an end to it is kept by the parser.
    quiet += text.length
    if (quiet > MOST_QUIET) throw new FeedError('goes on without end')
    parser.write(text)
    if (problem) throw problem
    yield* ready.splice(0)
  }
  parser.close()
  if (problem) throw problem
  yield* ready.splice(0)
}

const bare = (tag: string): string => tag.slice(tag.indexOf(':') + 1)
