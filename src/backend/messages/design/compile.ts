import { createHash } from 'node:crypto'
import mjml from 'mjml'
import type { Block } from '../../../core/blocks/blocks.ts'
import type { Brand } from '../../../core/messages/brand.ts'
import { RenderError } from '../renderError.ts'
import { mjmlOf, type DesignOptions } from './mjmlOf.ts'
import { Slots, type Segment } from './slots.ts'
import { Writer } from './writer.ts'

/** So many designs are kept compiled; those used longest ago go first. */
const KEPT = 300
const compiled = new Map<string, Promise<Segment[]>>()

/**
 * Compiles a design to HTML with slots, once for as long as neither it nor the brand changes: MJML
 * takes some milliseconds, filling in what differs a fraction of one. Throws RenderError.
 */
export function compileDesign(
  blocks: readonly Block[],
  brand: Brand,
  options: DesignOptions,
): Promise<Segment[]> {
  const key = createHash('sha256')
    .update(JSON.stringify([blocks, brand, options]))
    .digest('base64')
  const known = compiled.get(key)
  const design = known ?? compile(blocks, brand, options)
  compiled.delete(key)
  compiled.set(key, design)
  // What cannot be compiled is not kept.
  if (!known) design.catch(() => compiled.delete(key))
  const [oldest] = compiled.keys()
  if (compiled.size > KEPT && oldest !== undefined) compiled.delete(oldest)
  return design
}

async function compile(
  blocks: readonly Block[],
  brand: Brand,
  options: DesignOptions,
): Promise<Segment[]> {
  const slots = new Slots()
  const source = mjmlOf(blocks, new Writer(slots, brand, options.isMarked), options)
  const { html, errors } = await mjml(source, { validationLevel: 'soft', fonts: {}, minify: false })
  const [problem] = errors
  if (problem) throw new RenderError(`the design cannot be made: ${problem.message}`)
  return slots.cut(slimmer(html))
}

/** Without the indentation, which is a third of it. */
const slimmer = (html: string): string =>
  html.replaceAll(/\n\s+/g, '\n').replaceAll(/\n{2,}/g, '\n')
