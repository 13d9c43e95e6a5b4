import { findMergeField } from '../../core/messages/mergeFields.ts'

/** A message that cannot be rendered for this recipient, with the reason. Never sent half empty. */
export class RenderError extends Error {}

/** What a merge field is called where it prints nothing. */
export const fieldName = (key: string): string => `“${findMergeField(key)?.label ?? key}”`

/** Why a merge field without a fallback prints nothing. */
export function unknownField(key: string): string {
  return findMergeField(key)
    ? `${fieldName(key)} is not known here, and has no fallback`
    : `there is no merge field ${fieldName(key)}`
}
