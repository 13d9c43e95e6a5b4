import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { definitions } from '../../testing/model/arbitraries.ts'
import { aDefinition, anEmail, thanksDefinition, wait } from '../../testing/builders.ts'
import { layoutTimetable } from '../timetable/layout.ts'
import { definitionSchema, type Definition } from './definition.ts'
import { allSteps, stepKeys } from './lists.ts'
import {
  addBranch,
  freshKey,
  insertStep,
  moveBranch,
  removeBranch,
  removeStep,
  updateStep,
} from './edit.ts'

describe('edits', () => {
  test('insert into a branch', () => {
    const edited = insertStep(
      thanksDefinition(),
      { list: { branching: 'split', branch: 'second' }, index: 1 },
      anEmail('new'),
    )
    const split = edited.steps[0]
    expect(split?.kind === 'split' && split.branches[1]?.steps.map(({ key }) => key)).toEqual([
      'w2',
      'new',
      'thanks2',
    ])
  })
  test('insert into "everyone else"', () => {
    const edited = insertStep(
      thanksDefinition(),
      { list: { branching: 'split', branch: null }, index: 0 },
      anEmail('new'),
    )
    expect(edited.steps[0]).toMatchObject({ otherwise: [{ key: 'new' }, { key: 'stop' }] })
  })
  test('a place that is not there is an error', () => {
    expect(() =>
      insertStep(
        aDefinition(),
        { list: { branching: 'x', branch: null }, index: 0 },
        wait('w', 'P1D'),
      ),
    ).toThrow(RangeError)
  })
  test('the last branch of a split stays', () => {
    const one = removeBranch(removeBranch(thanksDefinition(), 'split', 'first'), 'split', 'second')
    expect(one.steps[0]).toMatchObject({ branches: [{ key: 'second' }] })
  })
  test('order of asking', () => {
    const moved = moveBranch(thanksDefinition(), 'split', 'second', -1)
    expect(moved.steps[0]).toMatchObject({ branches: [{ key: 'second' }, { key: 'first' }] })
    expect(moveBranch(thanksDefinition(), 'split', 'first', -1)).toEqual(thanksDefinition())
  })
  test('keys are never used twice', () => {
    const definition = insertStep(aDefinition(), { list: null, index: 0 }, anEmail('email-1'))
    expect(freshKey(definition, 'email')).toBe('email-2')
    const branch = { key: 'b9', name: 'B', when: { kind: 'all' as const, of: [] }, steps: [] }
    expect(stepKeys(addBranch(thanksDefinition(), 'split', branch).steps)).toContain('b9')
  })
})

/** Puts a wait in at any "+" of the timetable of any workflow. */
function insertingAnywhere(
  check: (inserted: Definition, key: string, before: Definition) => void,
): void {
  fc.assert(
    fc.property(definitions, fc.nat(), (definition, pick) => {
      const places = layoutTimetable(definition).links.flatMap(({ place }) => place ?? [])
      const place = places[pick % places.length]
      fc.pre(place !== undefined)
      const key = freshKey(definition, 'wait')
      check(insertStep(definition, place, wait(key, 'P1D')), key, definition)
    }),
  )
}

test('inserting at any "+" of the timetable and removing again gives the workflow back (property)', () => {
  insertingAnywhere((inserted, key, before) => {
    expect(definitionSchema.safeParse(inserted).success).toBe(true)
    expect(stepKeys(inserted.steps)).toContain(key)
    expect(removeStep(inserted, key)).toEqual(before)
  })
})

test('what an edit does not touch stays the same object (property)', () => {
  insertingAnywhere((inserted, key, before) => {
    const known = new Set(allSteps(before.steps))
    // The step itself, and the branching steps it is in.
    const made = allSteps(inserted.steps).filter((step) => !known.has(step))
    for (const step of made) expect(stepKeys([step])).toContain(key)
    expect(removeStep(before, key)).toBe(before)
    expect(updateStep(before, key, () => wait(key, 'P2D'))).toBe(before)
    expect(updateStep(inserted, key, (step) => step)).toBe(inserted)
  })
})
