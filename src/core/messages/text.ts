/** A rendered body cut into paragraphs at empty lines; lines within one stay apart. */
export function paragraphs(text: string): string[][] {
  return text
    .replaceAll('\r\n', '\n')
    .split(/\n[ \t]*\n+/)
    .map((block) => block.split('\n').map((line) => line.trimEnd()))
    .filter((lines) => lines.some((line) => line !== ''))
}
