import { useMemo, type ReactNode } from 'react'
import { siteFor } from '../../../../core/messages/links.ts'
import { couponBefore } from '../../../../core/check/flow/ways.ts'
import { canFillField, MERGE_FIELDS } from '../../../../core/messages/mergeFields.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { type MessageStep, isToCustomer } from '../../../../core/workflow/steps.ts'
import { usePreview } from '../../../ui/mail/usePreview.ts'
import { previewInput } from '../preview/useSamples.ts'
import { FieldProvider, type Fields } from './fieldContext.ts'

interface Props {
  definition: Definition
  message: MessageStep
  isReadOnly: boolean
  children: ReactNode
}

/** For the texts of a message within it: its merge fields, as somebody whom the trigger concerned lately has them. */
export function FieldValues({ definition, message, isReadOnly, children }: Props): ReactNode {
  const { preview } = usePreview(previewInput(definition, bare(message), null))
  const fields = useFieldChoice(definition, message, preview?.fields, isReadOnly)
  return <FieldProvider value={fields}>{children}</FieldProvider>
}

/** The merge fields that a message can have, with what they say for somebody. */
export function useFieldChoice(
  definition: Definition,
  message: MessageStep,
  values: Readonly<Record<string, string>> | undefined,
  isReadOnly: boolean,
): Fields {
  const { trigger } = definition
  const { key } = message
  const isForStaff = !isToCustomer(message)
  const hasCoupon = couponBefore(definition, key) !== 'none'
  const site = siteFor(message, definition)
  return useMemo(() => {
    return {
      fields: MERGE_FIELDS.filter(
        (field) => canFillField(field, trigger, hasCoupon) && (isForStaff || !field.forStaff),
      ),
      values: values ?? {},
      site,
      isReadOnly,
    }
  }, [trigger, hasCoupon, isForStaff, values, site, isReadOnly])
}

/** A message of the same language without what is being written, so that nothing is asked anew at each letter. */
function bare(message: MessageStep): MessageStep {
  const language = isToCustomer(message) ? message.language : undefined
  return { key: message.key, kind: 'sms', name: '', purpose: 'transactional', body: '', language }
}
