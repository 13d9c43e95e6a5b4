import type { ReactNode } from 'react'
import { smsSegments } from '../../../core/messages/smsSegments.ts'
import { plural } from '../../../core/words/quantities.ts'

/** A text message as a phone shows it, and in how many parts it is sent and paid for. */
export function PhoneView({ text }: { text: string }): ReactNode {
  const { encoding, units, parts, left, outside } = smsSegments(text)
  return (
    <div className="mx-auto my-6 w-80">
      <div className="min-h-80 rounded-[28px] border-4 border-base-300 bg-base-100 p-5">
        <p className="rounded-2xl rounded-bl-sm bg-base-200 px-4 py-2.5 text-[15px] leading-snug break-words whitespace-pre-wrap">
          {text}
        </p>
      </div>
      <p className="mt-3 text-center" role="status">
        <span className="font-medium">{plural(parts.length, 'part')}</span>{' '}
        <span className="text-secondary">
          ({units} characters, {left} to the next)
        </span>
      </p>
      {encoding === 'ucs2' && (
        <p className="mt-1 text-center text-xs text-secondary">
          {outside.slice(0, 8).map((one) => `“${one}”`).join(' ')}{' '}
          {outside.length === 1 ? 'is' : 'are'} not in the basic alphabet of text messages: a part
          holds 70 characters instead of 160.
        </p>
      )}
    </div>
  )
} // prettier-ignore
