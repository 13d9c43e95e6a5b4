const startRuns = 'src/drivers/live/startRuns.ts'
const store = 'src/backend/runs/store.ts'

/** Each with the tests that have to see it: the rest of those against PostgreSQL would take too long. */
export const live = [
  ['an event starts runs each time it is looked at', startRuns, ' and not considered\n', '\n', ['src/drivers/live/journey.test.ts']],
  ['two workers wait for each other’s runs', store, ".for('update', { skipLocked: true })", ".for('update')", ['src/backend/runs']],
  ['runs that are due later are taken', store, 'lte(runs.dueAt, now)))\n    .orderBy(asc(runs.dueAt)', 'lte(runs.dueAt, now + 1)))\n    .orderBy(asc(runs.dueAt)', ['src/backend/runs']],
  ['one idempotency key makes two runs', 'src/drivers/live/sweepDates.ts', '!known.has(idempotencyKey)', 'true', ['src/drivers/live/times.test.ts']],
] // prettier-ignore
