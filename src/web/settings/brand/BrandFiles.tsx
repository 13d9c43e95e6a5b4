import { Download, Upload } from 'lucide-react'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import { brandSchema, type Brand } from '../../../core/messages/brand.ts'

interface Props {
  brand: Brand
  /** Missing for those who may only look. */
  onRead: ((brand: Brand) => void) | undefined
}

/** A brand as a JSON file, out and in. */
export function BrandFiles({ brand, onRead }: Props): ReactNode {
  const read = async (file: File | undefined) => {
    if (!file || !onRead) return
    const parsed = brandSchema.safeParse(jsonOf(await file.text()))
    if (parsed.success) {
      onRead(parsed.data)
      toast.info('Read. Look at it, then save.')
      return
    }
    const [problem] = parsed.error.issues
    const where = problem?.path.join('.') ?? ''
    toast.error(`This is no brand of ours: ${where} ${problem?.message ?? ''}`)
  }
  return (
    <>
      <a
        className="btn btn-ghost btn-sm"
        download="brand.json"
        href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(brand, null, 2))}`}
      >
        <Download size={14} aria-hidden="true" /> As a file
      </a>
      {onRead && (
        <label className="btn btn-ghost btn-sm">
          <Upload size={14} aria-hidden="true" /> From a file
          <input
            type="file"
            className="sr-only"
            accept="application/json,.json"
            onChange={(event) => {
              void read(event.target.files?.[0])
              event.target.value = ''
            }}
          />
        </label>
      )}
    </>
  )
}

/** What a text holds as JSON; null where it is none, which no brand is. */
function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}
