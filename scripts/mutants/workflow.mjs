// Each mutant is one mistake somebody could make: what it is, in which file, and what it makes of which words.
const waits = 'src/core/workflow/waits.ts'
const gates = 'src/core/workflow/gates.ts'
const start = 'src/core/workflow/start.ts'
const advance = 'src/core/workflow/advance.ts'
const dates = 'src/core/workflow/dateTrigger.ts'
const compile = 'src/core/workflow/compile.ts'

export const workflow = [
  // Waits
  ['a wait for an event goes on from the event, though it came before the wait', advance, 'Math.max(run.since, at))', 'at)'],
  ['a wait for an event goes on from its beginning', advance, 'Math.max(run.since, at))', 'run.since)'],
  ['a wait for an event that did not come goes on from now', advance, 'onward(run, instruction.otherwise, limitAt)', 'onward(run, instruction.otherwise, facts.now)'],
  ['an event at the very end of the limit is too late', waits, 'past.at <= Math.min(limitAt, facts.now)', 'past.at < Math.min(limitAt, facts.now)'],
  ['an event at entry counts as awaited', waits, 'past.at > enteredAt &&', 'past.at >= enteredAt &&'],
  ['the last awaited event counts, not the first', waits, 'Math.min(...times)', 'Math.max(...times)'],
  ['an awaited event of another order counts', waits, "(step.about === 'customer' || isAboutSubject(past, facts))", 'true'],
  ['what an awaited event is to be about is not asked', waits, '(where === null || isLike(past, where, { facts, enteredAt }))', 'true'],
  ['a wait that is over at this moment is not', advance, 'if (until > facts.now) return parked(run, { step: key, until, reason: { code: \'time\' } }, facts)', 'if (until >= facts.now) return parked(run, { step: key, until, reason: { code: \'time\' } }, facts)'],
  ['a wait counts from now, not from the moment before it', advance, 'waitEnd(step, run.since, facts)', 'waitEnd(step, facts.now, facts)'],
  ['what comes after a wait counts from now, not from its end', advance, 'onward(run, next, until, hours)', 'onward(run, next, facts.now, hours)'],
  ['a wait forgets its hours', advance, 'step.at === undefined ? null : { at: step.at, weekdays: step.weekdays }', 'null'],
  ['a wait to an hour may end before it is reached', waits, 'Math.max(passed, facts.now)', 'passed'],
  ['a wait to an hour goes by any weekday', waits, 'wait.at, zone, wait.weekdays)', 'wait.at, zone)'],
  ['a fixed date goes by the recipient’s zone', waits, 'instantAt(until.date, until.at, facts.shop.zone)', 'instantAt(until.date, until.at, zoneOf(facts))'],
  // Waits until a date
  ['a date whose moment is now is waited for', advance, 'if (moment !== null && moment > facts.now) {', 'if (moment !== null && moment >= facts.now) {'],
  ['a date reached at its moment is past', advance, 'moment === facts.now || ', ''],
  ['a date that came while it was waited for is past', advance, "(run.dueAt ?? Infinity) <= facts.now", 'false'],
  ['what a date that is past skips is forgotten at the next one', advance, "run.skipNext || ifPast === 'skipNext'", "ifPast === 'skipNext'"],
  ['a fixed date is looked at again when its subject changes', advance, "step.until.kind === 'field' ? 'subject' : null", "'subject'"],
  // What happens to the rhythm
  ['a message that is too late sets the rhythm anew', advance, 'late ? run.since : facts.now', 'facts.now'],
  ['a message that is skipped keeps the rhythm', advance, 'late ? run.since : facts.now', 'run.since'],
  ['too late is not late', advance, "reason.code === 'tooLate' || reason.code === 'datePast'", "reason.code === 'datePast'"],
  ['what is skipped once is skipped for good', advance, 'skipNext: false },', 'skipNext: run.skipNext },'],
  ['a wait that was parked says so each time it is looked at', advance, 'run.dueAt === until ? null : waits(wait, facts)', 'waits(wait, facts)'],
  // Gates
  ['what is skipped up to a moment includes that moment', gates, 'since < skipBefore', 'since <= skipBefore'],
  ['a gap is open a moment too late', gates, "if (opensAt > now) {", 'if (opensAt >= now) {'],
  ['a skipped gap is open a moment too late', gates, "if (opensAt > now && step.onGap === 'skip') {", "if (opensAt >= now && step.onGap === 'skip') {"],
  ['the gap counts every message', gates, 'messages.filter((one) => one.marketing)', 'messages'],
  ['the gap counts from the first marketing message', gates, 'Math.max(...last)', 'Math.min(...last)'],
  ['whoever unsubscribed gets nothing that belongs to an order', gates, "(marketing || suppressed === 'bounced')", 'true'],
  ['a dead address gets what belongs to an order', gates, "(marketing || suppressed === 'bounced')", 'marketing'],
  ['an unknown consent is a yes', gates, 'marketing && consent !== true', 'marketing && consent === false'],
  ['consent is asked for what belongs to an order', gates, 'if (marketing && consent !== true)', 'if (consent !== true)'],
  ['all channels go by the consent and address of email', gates, 'customer.channels[step.kind]', 'customer.channels.email'],
  ['gates go by the shop’s zone', gates, 'zone: zoneOf(facts),', 'zone: facts.shop.zone,'],
  ['quiet hours hold what belongs to an order', gates, 'if (!marketing) return null', ''],
  ['a message that was sent by another run counts as sent', gates, 'one.runId === self.runId && one.step', 'one.step'],
  ['any message of the run counts as sent', gates, 'one.runId === self.runId && one.step === step.key', 'one.runId === self.runId'],
  ['a held message forgets the hours of its wait', gates, "if (refusal?.kind !== 'hold' || hours === null) return refusal", 'return refusal'],
  ['a held message waits for hours that are always quiet', gates, 'isQuiet ? until : permitted', 'permitted'],
  ['the gap is not asked where there are quiet hours', gates, 'shop.messageGap !== null && lastMarketingAt !== null', 'shop.messageGap !== null && shop.quietHours === null && lastMarketingAt !== null'],
  ['the last exclusion that holds is the reason', gates, 'candidates.findIndex(', 'candidates.findLastIndex('],
  ['an exclusion that skips makes people leave', gates, "if (exclusion.effect === 'leave') return { kind: 'leave', held }", "return { kind: 'leave', held }"],
  ['a message’s own condition is asked before the exclusions', gates, 'if (held) return excluded(held)\n  const before = program.exclusions.flatMap(({ when }) => when.observe(asked))\n  const own', "const ownFirst = ownReason(message, run, asked, message.onlyIf?.observe(asked) ?? [])\n  if (ownFirst) return { kind: 'skip', reason: ownFirst, before: [] }\n  if (held) return excluded(held)\n  const before = program.exclusions.flatMap(({ when }) => when.observe(asked))\n  const own"],
  // Entry
  ['an event of exactly seven days is too old', start, 'facts.now - at > TOO_OLD_DAYS', 'facts.now - at >= TOO_OLD_DAYS'],
  ['a date can be too old', start, "cause.by === 'event' && facts.now", 'facts.now'],
  ['an exclusion that only skips keeps people out', start, "heldExclusion(program, asked, 'leave')", 'heldExclusion(program, asked)'],
  ['who is put in by hand is always let in', start, "cause.by === 'hand' && cause.overridden", "cause.by === 'hand'"],
  ['whoever comes again at the very end of the time is too early', start, 'at >= againAt', 'at > againAt'],
  ['whoever is in it may come in again', start, "if (overlap === 'one' && inProgress) return { code: 'alreadyInProgress' }", ''],
  ['from which status is not asked', start, "if (from && from.length > 0 && !from.includes(change?.from ?? '')) return false", ''],
  ['an empty list of statuses lets nobody in', start, '!to || to.length === 0 || to.includes', '!to || to.includes'],
  // Lotteries
  ['a roll on the edge falls on the arm before', 'src/core/workflow/arms.ts', 'roll * total < upTo', 'roll * total <= upTo'],
  ['an arm without weight is drawn where rounding leaves a gap', 'src/core/workflow/arms.ts', "arms.findLast(({ weight }) => weight > 0) ?? arms.at(-1)", 'arms.at(-1)'],
  ['all experiments share a lottery', 'src/core/workflow/arms.ts', '`${lottery}\\n${customerId}`', 'customerId'],
  // Dates that start runs
  ['a date that passes now is still due', dates, 'moment < date ? date > now', 'moment < date ? date >= now'],
  ['a moment three days ago is made up for', dates, 'moment > now - MAKE_UP_DAYS', 'moment >= now - MAKE_UP_DAYS'],
  ['an hour later than the date itself is never due', dates, "now < nextLocalTime(date + 1, '00:00', zone)", 'date > now'],
  ['a date nearer than the lead always starts', dates, "trigger.ifNearer === 'startAtOnce' &&", ''],
  ['a date at its very moment is not nearer than the lead', dates, 'when.moment <= when.now', 'when.moment < when.now'],
  ['a date that is set on another line is not new', dates, 'line === one.line && date === one.date', 'date === one.date'],
  ['a sweep goes to the latest zone', dates, 'return Math.min(...zones', 'return Math.max(...zones'],
  // Actions and coupons
  ['a coupon that a later message shows is issued at once', advance, "step.kind === 'coupon' && program.shownLater.has(key)", 'false'],
  ['a message shows the first coupon that is owed', advance, 'owed.at(-1)', 'owed[0]'],
  ['a coupon that was shown is owed again', advance, 'next: { ...run, owed: [] }', 'next: { ...run }'],
  ['exclusions are not asked before hooks', advance, "if (gates.kind === 'leave') return left(key, gates.held, run)\n  if (gates.kind === 'skip') {\n    const { reason, before } = gates\n    const decision: Decision", "if (gates.kind === 'leave' && step.kind !== 'hook') return left(key, gates.held, run)\n  if (gates.kind === 'skip') {\n    const { reason, before } = gates\n    const decision: Decision"],
  ['a coupon shown on one way only is not owed', compile, 'return successorsOf(from).some((key) => {', 'return successorsOf(from).every((key) => {'],
  ['marks are not seen by what comes after', advance, 'facts: { ...facts, customer: marked(facts.customer, step) },', ''],
  ['what was sent is not seen by what comes after', advance, 'messages: [...facts.messages, own]', 'messages: facts.messages'],
] // prettier-ignore
