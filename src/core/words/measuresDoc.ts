import { TEST_MEASURES } from '../workflow/testPlan.ts'
import { MEASURES, NOT_SENT_WORDS } from './measures.ts'
import { TEST_MEASURE_WORDS } from './testWords.ts'

const row = (...cells: readonly string[]): string => `| ${cells.join(' | ')} |`

/** The page docs/measures.md, written from the measures that the screens say. */
export function measuresDoc(): string {
  const measures = Object.values(MEASURES).map(({ label, means }) => row(label, means))
  const reasons = Object.entries(NOT_SENT_WORDS).map(([code, says]) => row(`\`${code}\``, says))
  return `# What is counted

Written by \`npm run schema\` from \`core/words/measures.ts\`, which the screens say as well. Table,
timetable and the people behind each figure are counts of the same rows, which \`backend/workflows/results/facts.ts\` makes; orders that count are those of \`backend/workflows/earned.ts\`, in the list, on the timetable and here.

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

## On a path

Of those who took a path or an arm counts what came after it: messages sent since, of those who got any, and orders of everybody who took
it, for whatever reason, in the shop’s currency. So the arm that sends nothing can be read beside the others. On a message, **how soon they
ordered** is Kaplan–Meier over everybody to whom it was delivered, who got it lately counting for as long as they have had it.

## Tests

Everybody who was drawn counts for their arm from their first draw on, in a window of the same length for every arm, whatever they
got (intention to treat): also the arm that sends nothing, and orders before the first message. The query is
\`backend/workflows/experiments.ts\`. A test is decided by one of these, chosen before it begins:

${TEST_MEASURES.map((measure) => `- \`${measure}\`: ${TEST_MEASURE_WORDS[measure].label}`).join('\n')}

Revenue is per person, in the shop’s currency; what is above the 99th percentile of the shop’s orders of a year is cut to it, and
the sum without the cut stands beside. The interval that holds at every look is an asymptotic confidence sequence (Waudby-Smith, Arbour,
Sinha, Kennedy, Ramdas; normal mixture after Robbins 1970). It is shown from ten of what is counted in each arm on, fifty buyers for revenue. For
the planned look: Newcombe’s interval of the difference, of means the normal one, with Holm’s allowance for several arms. Arms whose
people differ from their weights with p < 0.001 (χ²) are not judged. **Caused** is what the arms that could get messages bought more per
person than the holdout, times their people; **attributed** is the last touch, as above. The verdicts are made in \`core/experiments/judge.ts\`.

## The shop as a whole

Messages a day are those that left to customers, by the shop’s calendar. The forecast (\`core/forecast\`) follows those who are in a workflow
by how it went on for others who were in it as long, and adds those who will enter at the pace of the same weekday in the last eight weeks; nine days
in ten are meant to lie within its bounds, which are as wide as the last forecast was off. Complaints are held against what large
mailbox providers publish for those who send in bulk: less than 0.1 % of what is delivered, never 0.3 %; two in a hundred that come back are common
practice as a limit.

A **holdout of the whole shop** draws so many in a hundred people, by lot, who get no marketing. Everybody counts from the moment at which
their first marketing message since then left or, but for the holdout, would have left: it is the last gate that is asked, so that this moment is
the same on both sides. The query is \`backend/workflows/shopHoldout.ts\`; what follows is as of every test. Another share is another holdout
with another draw.

## Why somebody did not get a message

| Code | In words |
| --- | --- |
${reasons.join('\n')}
`
}
