import { checkExamples } from '../src/core/rehearsal/examples.ts'
import { leastChanges } from '../src/core/rehearsal/differ.ts'
import { rehearse } from '../src/core/rehearsal/rehearse.ts'
import { compileProgram } from '../src/core/workflow/compile.ts'
import type { Definition } from '../src/core/workflow/definition.ts'
import { allSteps } from '../src/core/workflow/lists.ts'
import { isMessage, type Step } from '../src/core/workflow/steps.ts'
import { DEMO_FACTS } from '../src/demo/shopFacts.ts'
import { LIVE_WORKFLOWS } from '../src/demo/workflows/index.ts'
import { aDefinition, anEmail, happened, on, wait } from '../src/testing/builders.ts'
import { report } from './measure.ts'

const TURNS = 5
/** How many examples are to be gone through in a second, and how many questions answered. */
const AIMS = { examples: 1000, why: 5 } as const

/** Rehearsals as the browser does them: the core alone, with nothing beside it. */
export function measureRehearsals(): void {
  const subject = LIVE_WORKFLOWS[0]?.examples?.[0]?.subject
  if (!subject) throw new Error('The first workflow of the demo has no example')
  const long = longWorkflow()
  // Each change makes a new document, so it is compiled each time.
  const change = best(20, () => void rehearse({ ...long }, subject, DEMO_FACTS))
  const compile = best(20, () => void compileProgram({ ...long }))
  report('rehearsals of a workflow of 200 steps, aim 10', change, 'compiled and no more', compile)
  const all = LIVE_WORKFLOWS.reduce((sum, { examples = [] }) => sum + examples.length, 0)
  const through = best(1, () =>
    LIVE_WORKFLOWS.forEach((one) => void checkExamples(one, DEMO_FACTS)),
  )
  report(`examples of the demo gone through, aim ${AIMS.examples}`, through * all, 'the aim', AIMS.examples) // prettier-ignore
  const why = best(1, askAll)
  report(`"what would have to differ", aim ${AIMS.why}`, why * questions().length, 'the aim', AIMS.why) // prettier-ignore
}

function best(count: number, work: () => void): number {
  const speeds = Array.from({ length: TURNS }, () => {
    const start = performance.now()
    for (let index = 0; index < count; index += 1) work()
    return count / ((performance.now() - start) / 1000)
  })
  return Math.max(...speeds)
}

function longWorkflow(): Definition {
  const steps = Array.from({ length: 100 }, (_, index): Step[] => [
    wait(`w${index}`, 'P1D'),
    anEmail(`m${index}`),
  ]).flat()
  const exclusions = [{ key: 'x', when: happened('order.refunded'), effect: 'leave' as const }]
  return aDefinition({ trigger: on('order.placed'), exclusions, steps })
}

/** The first message of each workflow of the demo, for whom its first example is. */
const questions = () =>
  LIVE_WORKFLOWS.flatMap((definition) => {
    const [example] = definition.examples ?? []
    const message = allSteps(definition.steps).find(isMessage)
    return example && message ? [{ definition, subject: example.subject, step: message.key, products: example.subject.lines, shop: DEMO_FACTS }] : [] // prettier-ignore
  })

function askAll(): void {
  for (const question of questions()) {
    const asking = leastChanges(question)
    let step = asking.next()
    while (!step.done) step = asking.next()
  }
}
