import { useMemo, type ReactNode } from 'react'
import type { Definition } from '../../../../core/workflow/definition.ts'
import type { FollowedLink } from '../../../../core/messages/ownLinks.ts'
import type { MessageStep } from '../../../../core/workflow/steps.ts'
import { Loading, Problem } from '../../../ui/states.tsx'
import { MailFrame } from '../../../ui/mail/MailFrame.tsx'
import { PhoneView } from '../../../ui/mail/PhoneView.tsx'
import { usePreview } from '../../../ui/mail/usePreview.ts'
import { previewInput } from '../../message/preview/useSamples.ts'
import { markLinks } from './markLinks.ts'

interface Props {
  definition: Definition
  message: MessageStep
  links: readonly FollowedLink[]
  delivered: number
}

/** The message as the last one for whom it could be sent would get it, with how many followed each link. */
export function FollowedMail({ definition, message, links, delivered }: Props): ReactNode {
  const { preview, error } = usePreview(previewInput(definition, message, null))
  const html = preview?.html ?? null
  const marked = useMemo(
    () => (html === null ? null : markLinks(html, links, delivered)),
    [html, links, delivered],
  )
  if (error) return <Problem error={error} />
  if (!preview) return <Loading what="the message" />
  if (preview.problem !== null) return <p className="text-xs text-secondary">{preview.problem}</p>
  return (
    <div className="flex flex-col">
      <p className="mb-1 truncate font-medium" title={preview.subject}>
        {preview.subject}
      </p>
      {marked === null ? (
        message.kind === 'sms' ? (
          <PhoneView text={preview.text} />
        ) : (
          <pre className="text-xs whitespace-pre-wrap">{preview.text}</pre>
        )
      ) : (
        <div className="flex h-[480px] border border-base-300">
          <MailFrame html={marked} dark={false} images className="w-full" />
        </div>
      )}
    </div>
  )
}
