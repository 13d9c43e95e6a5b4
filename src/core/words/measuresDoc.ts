import { MEASURES, NOT_SENT_WORDS } from './measures.ts'

const row = (...cells: readonly string[]): string => `| ${cells.join(' | ')} |`

/** The page docs/measures.md, written from the measures that the screens say. */
export function measuresDoc(): string {
  const measures = Object.values(MEASURES).map(({ label, means }) => row(label, means))
  const reasons = Object.entries(NOT_SENT_WORDS).map(([code, says]) => row(`\`${code}\``, says))
  return `# What is counted

Written by \`npm run schema\` from \`core/words/measures.ts\`, which the screens say as well. The query is
\`backend/workflows/results.ts\`; orders that count are those of \`backend/workflows/earned.ts\`, in the list, on the timetable and here.

## Who

Those who **entered** a workflow in a time, its first moment included and its last left out. What they did counts for as many
days as are chosen, from the moment each of them entered: numerator and denominator are the same people. Those whose days are
not over stand apart, for more may come of them; they are added only where somebody says so. Whoever enters twice counts twice:
a way through the workflow is what is counted.

## What

| Measure | What it counts |
| --- | --- |
${measures.join('\n')}

An order counts for the message its customer got last in the seven days before it, of any workflow; at that very moment it
still does. Rates stand with the interval in which they most likely lie (Wilson's score interval, 95 %); under twenty people no rate
is shown, only how many of how many.

## Why somebody did not get a message

| Code | In words |
| --- | --- |
${reasons.join('\n')}
`
}
