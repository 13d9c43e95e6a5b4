// Mistakes in what experiments are judged by, and in the forecast: name, file, what stands there, what is put in its place.
export const experiments = [
  ['an arm without weight is compared', 'src/core/experiments/judge.ts', '.filter(({ weight }) => weight > 0)', '.filter(() => true)'],
  ['a holdout is not what the others are compared with', 'src/core/experiments/judge.ts', 'Number(b.holdout) - Number(a.holdout)', 'Number(a.holdout) - Number(b.holdout)'],
  ['an interval is shown from the first event on', 'src/core/experiments/judge.ts', "export const LEAST_EVENTS = { share: 10, revenue: 50 }", "export const LEAST_EVENTS = { share: 1, revenue: 1 }"],
  ['several comparisons have the whole level each', 'src/core/experiments/judge.ts', '(plan.level ?? USUAL_LEVEL) / among', '(plan.level ?? USUAL_LEVEL)'],
  ['a skewed ratio is not told', 'src/core/experiments/judge.ts', 'ratioP < RATIO_ALARM', 'ratioP < 0'],
  ['fewer who unsubscribe are worse', 'src/core/experiments/judge.ts', 'isBetterLow(plan.measure) ? -1 : 1', '1'],
  ['the planned end forgets the window', 'src/core/experiments/judge.ts', 'now + windowMs + Math.ceil', 'now + Math.ceil'],
  ['unequal arms need no more people', 'src/core/experiments/needed.ts', '(perArm / 2) * (all / first + all / weight)', 'perArm * 2'],
  ['names of arms begin a new period', 'src/core/experiments/period.ts', 'arms.map(({ key, weight, holdout = false, steps }) => [key, weight, holdout, steps])', 'arms'],
  ['the lottery does not begin a new period', 'src/core/experiments/period.ts', '  lottery,\n  arms.map', '  null,\n  arms.map'],
  ['a coupon in one arm goes unseen', 'src/core/experiments/armDrift.ts', 'if (giving.length === 0 || giving.length === arms.length) return []', 'return []'],
  ['people whose path has ended come back to the line', 'src/core/timetable/flow.ts', "if (kind === 'end') return 0", ''],
  ['who waits is on the line behind', 'src/core/timetable/flow.ts', ' - (own?.waiting ?? 0)', ''],
  ['the forecast sees what comes after its day', 'src/core/forecast/forecast.ts', 'workflowId === id && sent <= today', 'workflowId === id && sent <= Infinity'],
  ['the forecast forgets the weekday', 'src/core/forecast/forecast.ts', '(day - entered) % 7 === 0', 'true'],
  ['bounds do not widen with the spread', 'src/core/forecast/forecast.ts', '* Math.max(1, spread)', '* 1'],
] // prettier-ignore
