import { z } from 'zod'
import type { FieldPart } from './mergeFields.ts'

/** How another system writes merge fields: Liquid, Mustache, or a pattern of one's own with {field} in it. */
export const tagSyntax = z.union([
  z.enum(['liquid', 'mustache']),
  z.string().max(60).regex(/\{field\}/, 'must hold {field}').regex(/^[^<>"&]*$/, 'must not hold < > " or &'),
]) // prettier-ignore
export type TagSyntax = z.infer<typeof tagSyntax>

/** A merge field as another system writes it; what stands in its place where it is unknown only in Liquid. */
export function foreignTag({ key, fallback }: FieldPart, syntax: TagSyntax): string {
  if (syntax === 'mustache') return `{{${key}}}`
  if (syntax !== 'liquid') return syntax.replaceAll('{field}', key)
  // Single quotes: tags stand in attributes, too.
  const otherwise =
    fallback === null ? '' : ` | default: '${fallback.replaceAll(/['"<>&{}]/g, '')}'`
  return `{{ ${key}${otherwise} }}`
}
