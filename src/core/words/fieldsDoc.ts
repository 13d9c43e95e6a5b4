import { FIELDS, type Field, type FieldType } from '../conditions/fields.ts'
import { OPERATORS } from '../conditions/operators.ts'
import { FORMATS, type FormatKind } from '../messages/formats.ts'
import { MERGE_FIELDS } from '../messages/mergeFields.ts'
import { EVENT_WORDS } from './eventWords.ts'

const TYPES: Readonly<Record<FieldType, string>> = {
  money: 'money',
  number: 'number',
  text: 'text',
  choice: 'choice',
  yesNo: 'yes or no',
  list: 'list',
  date: 'date',
  yearDay: 'day of the year',
}

const row = (...cells: readonly string[]): string => `| ${cells.join(' | ')} |`
const code = (text: string): string => `\`${text}\``

function table(heads: readonly string[], rows: readonly string[]): string {
  return [row(...heads), row(...heads.map(() => '---')), ...rows].join('\n')
}

const printedAs = ({ about, printed }: Field): string =>
  printed ? code(`{{ ${about}.${printed.name} }}`) : ''

const FORMAT_KINDS: Readonly<Record<FormatKind, string>> = {
  day: 'a day',
  time: 'a day with an hour',
  money: 'an amount',
  list: 'items',
}

/** The page docs/fields.md, written from the catalogue: events, fields, operators, merge fields. */
export function fieldsDoc(): string {
  const events = Object.entries(EVENT_WORDS).map(([type, { happened }]) =>
    row(code(type), `when ${happened}`),
  )
  const fields = FIELDS.map((field) =>
    row(code(field.key), field.label, TYPES[field.type], printedAs(field)),
  )
  const operators = Object.entries(OPERATORS).map(([type, list]) =>
    row(
      TYPES[type as FieldType],
      list.map(({ op, label }) => `${code(op)} ${label.replace(/:$/, '')}`).join(', '),
    ),
  )
  const printed = new Set(FIELDS.map(printedAs))
  const others = MERGE_FIELDS.filter(({ key }) => !printed.has(code(`{{ ${key} }}`))).map(
    ({ key, label }) => row(code(`{{ ${key} }}`), label),
  )
  const formats = Object.entries(FORMATS).flatMap(([kind, list]) =>
    list.map(({ key, label }) => row(FORMAT_KINDS[kind as FormatKind], code(key), label)),
  )
  return `# Events, fields and operators

Written by \`npm run schema\` from the catalogue in the core.

## Events

${table(['Type', 'Starts a run'], events)}

## Fields

What conditions ask about, and the merge field that prints it. A customer's own properties are fields too:
\`customer.property.<name>\`, a text.

${table(['Field', 'What it is', 'Type', 'Merge field'], fields)}

## Operators

${table(['Type', 'Operators'], operators)}

## Merge fields that are only printed

${table(['Merge field', 'What it is'], others)}

## How merge fields are written

Money, dates and lists are written in the recipient's language where it is known, days by the calendar where they live. A
format is put behind the field: ${code('{{ order.total | as: "short" }}')}.

${table(['Of', 'Format', 'How'], formats)}
`
}
