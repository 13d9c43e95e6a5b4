import { sameDocument } from '../../../core/shared/sameDocument.ts'

/**
 * For `memo`: true when all props are the same. Of those that are `alike` it is enough that they say
 * the same, for they are made anew each time.
 */
export function sameProps<Props extends object>(
  ...alike: (keyof Props)[]
): (before: Props, after: Props) => boolean {
  return (before, after) => {
    for (const key in after) {
      if (Object.is(before[key], after[key])) continue
      if (!alike.includes(key) || !sameDocument(before[key], after[key])) return false
    }
    return true
  }
}
