const LINE_LENGTH = 76
/** What is neither printable ASCII, nor a tab, nor ends a line. */
const UNPRINTABLE = /[^\t\r\n\x20-\x7e]+/g

/**
 * A text as quoted-printable (RFC 2045, section 6.7): lines of at most 76 characters that end in CRLF,
 * in UTF-8. Half a surrogate pair becomes U+FFFD, as everywhere in UTF-8. Characters are not parted by
 * the soft breaks, which not every reader puts together again.
 *
 * For mails whose parts are large: the encoders of mail libraries look at each line four times over.
 */
export function quotedPrintable(text: string): string {
  return text
    .toWellFormed()
    .replaceAll('=', '=3D')
    .replaceAll(UNPRINTABLE, octets)
    .split(/\r\n|\r|\n/)
    .map((line) => wrapped(blankEncoded(line)))
    .join('\r\n')
}

const octets = (characters: string): string => encodeURIComponent(characters).replaceAll('%', '=')

/** A blank that ends a line would be lost on the way. */
function blankEncoded(line: string): string {
  if (line.endsWith(' ')) return `${line.slice(0, -1)}=20`
  return line.endsWith('\t') ? `${line.slice(0, -1)}=09` : line
}

function wrapped(line: string): string {
  if (line.length <= LINE_LENGTH) return line
  const parts: string[] = []
  let from = 0
  while (line.length - from > LINE_LENGTH) {
    const to = breakBefore(line, from + LINE_LENGTH - 1)
    parts.push(line.slice(from, to))
    from = to
  }
  parts.push(line.slice(from))
  return parts.join('=\r\n')
}

/** The last place up to `at` that parts neither an octet ("=C3") nor a character of several. */
function breakBefore(line: string, at: number): number {
  let to = at
  if (line[to - 1] === '=') to -= 1
  else if (line[to - 2] === '=') to -= 2
  while (line[to] === '=' && isContinuation(line[to + 1])) to -= 3
  return to
}

/** UTF-8: octets that go on with a character begin with the bits 10. */
const isContinuation = (digit: string | undefined): boolean =>
  digit !== undefined && '89AB'.includes(digit)
