import { escapeHtml } from '../backend/messages/index.ts'

/** A piece of HTML, in which whatever came from outside is escaped. */
export class Html {
  readonly text: string

  constructor(text: string) {
    this.text = text
  }
}

type Value = Html | string | number | null | readonly Html[]

/**
 * Makes HTML of a template: texts that are put in are escaped, pieces of HTML and lists of them are not,
 * and null is nothing. Attributes have to stand in double quotes.
 */
export function html(parts: TemplateStringsArray, ...values: readonly Value[]): Html {
  const filled = parts.map((part, index) => part + textOf(values[index] ?? null))
  return new Html(filled.join(''))
}

function textOf(value: Value): string {
  if (value === null) return ''
  if (value instanceof Html) return value.text
  return typeof value === 'object'
    ? value.map(({ text }) => text).join('')
    : escapeHtml(String(value))
}
