import {
  ChevronLeft,
  ChevronRight,
  ImageOff,
  Monitor,
  Moon,
  Paperclip,
  Smartphone,
} from 'lucide-react'
import { useState, type ReactNode } from 'react'
import type { Preview, Sample } from '../../../../contract/messages.ts'
import type { EmailStep, MessageStep } from '../../../../core/workflow/steps.ts'
import { MailFrame } from '../../../ui/mail/MailFrame.tsx'
import { IconToggle } from '../../../ui/fields/IconToggle.tsx'
import { PhoneView } from '../../../ui/mail/PhoneView.tsx'
import { usePreview, type PreviewInput } from '../../../ui/mail/usePreview.ts'
import type { DesignWriting } from '../writing/designContext.ts'
import { WrittenPaper } from '../writing/WrittenPaper.tsx'
import type { Beside } from './useBeside.ts'
import { previewInput, type Samples } from './useSamples.ts'

interface Props {
  /** What it is compared with, and the choice of that. */
  beside: Beside | null
  compare: ReactNode
  message: MessageStep
  preview: Preview | undefined
  error: Error | null
  samples: Samples
  /** The blocks, where it is written on; null where it is only looked at. */
  writing: DesignWriting | null
  /** What is done with what is seen. */
  children: ReactNode
}

/** The message as its reader sees it: for whom, how wide, dark, without images, as plain text. */
export function PreviewPane(props: Props): ReactNode {
  const { message, preview, error, samples, beside, compare, writing, children } = props
  const [narrow, setNarrow] = useState(false)
  const [dark, setDark] = useState(false)
  const [images, setImages] = useState(true)
  const [plain, setPlain] = useState(false)
  const asText = plain || preview?.html === null
  const looks = { plain, narrow, dark, images }
  return (
    <section aria-label="Preview" className="panel flex min-w-0 flex-1 flex-col overflow-hidden">
      <div className="flex flex-wrap items-center gap-1 border-b border-base-300 px-3 py-2">
        <SamplePicker samples={samples} />
        <span className="ml-auto flex items-center gap-1">
          {compare}
          {message.kind === 'email' && (
            <>
              <IconToggle label="Wide" Icon={Monitor} on={!narrow} onClick={() => setNarrow(false)} />
              <IconToggle label="Narrow" Icon={Smartphone} on={narrow} onClick={() => setNarrow(true)} />
              <IconToggle label="Dark" Icon={Moon} on={dark} onClick={() => setDark(!dark)} />
              <IconToggle label="Images off" Icon={ImageOff} on={!images} onClick={() => setImages(!images)} />
              <button
                type="button"
                className={`btn btn-xs ${asText ? 'btn-neutral' : ''}`}
                aria-pressed={asText}
                disabled={preview?.html === null}
                onClick={() => setPlain(!plain)}
              >
                Plain text
              </button>
            </>
          )}
          {children}
        </span>
      </div>
      <div className="flex min-h-0 flex-1">
        {beside && <BesideSheet beside={beside} sample={samples.shown} looks={looks} />}
        <Sheet
          label={beside ? 'As it is written' : null}
          message={message}
          preview={preview}
          error={error}
          looks={looks}
          writing={writing}
        />
      </div>
    </section>
  )
} // prettier-ignore

/** How a message is looked at. */
interface Looks {
  plain: boolean
  narrow: boolean
  dark: boolean
  images: boolean
}

/** Another message as the same person would get it. */
function BesideSheet({
  beside: { label, definition, message },
  sample,
  looks,
}: {
  beside: Beside
  sample: Sample | null
  looks: Looks
}): ReactNode {
  if (!message) return <Note title={label} text="This message was not in it." />
  return (
    <BesideMessage
      label={label}
      input={previewInput(definition, message, sample)}
      message={message}
      looks={looks}
    />
  )
}

interface BesideMessageProps {
  label: string
  input: PreviewInput
  message: MessageStep
  looks: Looks
}

function BesideMessage({ label, input, message, looks }: BesideMessageProps): ReactNode {
  const { preview, error } = usePreview(input)
  return <Sheet label={label} message={message} preview={preview} error={error} looks={looks} />
}

interface SheetProps extends Pick<Props, 'message' | 'preview' | 'error'> {
  /** Where two are looked at: which one this is. */
  label: string | null
  looks: Looks
  writing?: DesignWriting | null
}

/** One message: what the inbox shows of it, and what is read. */
function Sheet({ label, message, preview, error, looks, writing = null }: SheetProps): ReactNode {
  const asText = looks.plain || preview?.html === null
  return (
    <div
      role="group"
      aria-label={label ?? 'The message'}
      className="flex min-w-0 flex-1 flex-col not-last:border-r not-last:border-base-300"
    >
      {label !== null && (
        <p className="truncate border-b border-base-300 px-4 py-1 text-xs font-medium text-secondary">
          {label}
        </p>
      )}
      {message.kind !== 'sms' && preview && (
        <InboxLine message={message} preview={preview} isShort={label !== null} />
      )}
      {preview?.notes.map((note) => (
        <p
          key={note}
          role="status"
          className="border-b border-base-300 px-4 py-1 text-xs text-accent"
        >
          {note}
        </p>
      ))}
      {message.kind === 'email' && <With message={message} />}
      <div className="flex min-h-0 flex-1 flex-col overflow-auto bg-base-200">
        <Shown
          isText={message.kind === 'sms'}
          preview={preview}
          error={error}
          {...looks}
          asText={asText}
          writing={writing}
        />
      </div>
    </div>
  )
}

/** The files that go with a message. */
function With({ message: { invoice, documents = [] } }: { message: EmailStep }): ReactNode {
  const names = [...(invoice ? ['the invoice'] : []), ...documents.map(({ name }) => name)]
  if (names.length === 0) return null
  return (
    <p className="flex items-center gap-1.5 border-b border-base-300 px-4 py-1 text-xs text-secondary">
      <Paperclip size={12} aria-hidden="true" />
      <span className="truncate">With {names.join(', ')}</span>
    </p>
  )
}

interface ShownProps extends Pick<Props, 'preview' | 'error'>, Omit<Looks, 'plain'> {
  isText: boolean
  asText: boolean
  writing: DesignWriting | null
}

function Shown({
  isText,
  preview,
  error,
  asText,
  narrow,
  dark,
  images,
  writing,
}: ShownProps): ReactNode {
  if (error) return <Note title="The preview could not be made." text={error.message} />
  if (!preview) return <p className="p-6 text-secondary">Preparing the preview …</p>
  if (preview.problem !== null) {
    return <Note title="It would not be sent like this." text={`${preview.problem}.`} />
  }
  if (isText) return <PhoneView text={preview.text} />
  const width = narrow ? 'w-[375px]' : 'w-full'
  if (asText || preview.html === null) {
    return (
      <pre
        className={`mx-auto min-h-full flex-1 bg-base-100 p-5 font-sans wrap-anywhere whitespace-pre-wrap ${width}`}
      >
        {preview.text}
      </pre>
    )
  }
  if (writing) {
    return (
      <WrittenPaper
        html={preview.html}
        dark={dark}
        images={images}
        className={`mx-auto ${width}`}
        writing={writing}
      />
    )
  }
  return (
    <MailFrame html={preview.html} dark={dark} images={images} className={`mx-auto ${width}`} />
  )
}

function Note({ title, text }: { title: string; text: string }): ReactNode {
  return (
    <div role="alert" className="panel m-6 border-accent p-4">
      <p className="font-medium">{title}</p>
      <p className="text-secondary">{text}</p>
    </div>
  )
}

/** How it stands among others before it is opened. */
interface InboxLineProps {
  message: MessageStep
  preview: Preview
  /** There is room for what an inbox shows only. */
  isShort: boolean
}

function InboxLine({ message, preview, isShort }: InboxLineProps): ReactNode {
  const from = message.kind === 'email' ? message.sender.name : 'The shop'
  return (
    <dl
      className="flex items-baseline gap-3 border-b border-base-300 px-4 py-2"
      aria-label="In the inbox"
    >
      <dt className="sr-only">From</dt>
      <dd className="max-w-40 shrink-0 truncate font-medium">{from}</dd>
      <dt className="sr-only">Subject and preview text</dt>
      <dd className="min-w-0 flex-1 truncate">
        <span className="font-medium">{preview.subject || 'no subject'}</span>{' '}
        <span className="text-secondary">{preview.previewText}</span>
      </dd>
      <dt className="sr-only">{isShort ? 'Size' : 'To and size'}</dt>
      <dd className="shrink-0 font-mono text-xs text-secondary">
        {!isShort && `${preview.to || 'nobody'}${preview.bytes > 0 ? ' · ' : ''}`}
        {preview.bytes > 0 && `${Math.ceil(preview.bytes / 1000)} kB`}
      </dd>
    </dl>
  )
}

/** For whom it is looked at: the next, the one before, or one that is looked for. */
function SamplePicker({ samples }: { samples: Samples }): ReactNode {
  const { all, shown, show, search, onSearch, isSearching } = samples
  const index = all.findIndex((one) => one === shown)
  const step = (by: number) => {
    const next = all[index + by]
    if (next) show(next)
  }
  return (
    <div className="flex items-center gap-1" role="group" aria-label="Shown for">
      <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label="The one before" disabled={index <= 0} onClick={() => step(-1)}>
        <ChevronLeft size={15} />
      </button>
      <select
        className="select select-xs w-64"
        aria-label="Shown for"
        value={index}
        aria-busy={isSearching}
        disabled={isSearching}
        onChange={(event) => {
          const chosen = all[Number(event.target.value)]
          if (chosen) show(chosen)
        }}
      >
        {index === -1 && <option value={-1}>{shown ? `${shown.name} · ${shown.about}` : 'nobody yet'}</option>}
        {all.map((one, at) => (
          <option key={`${one.customerId} ${one.subjectId} ${one.line} ${one.at}`} value={at}>
            {one.name}
            {one.about && ` · ${one.about}`}
          </option>
        ))}
      </select>
      <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label="The next one" disabled={index === -1 || index >= all.length - 1} onClick={() => step(1)}>
        <ChevronRight size={15} />
      </button>
      <input className="input input-xs w-28" aria-label="Find somebody" placeholder="Find …" maxLength={100} value={search} onChange={(event) => onSearch(event.target.value)} />
    </div>
  )
} // prettier-ignore
