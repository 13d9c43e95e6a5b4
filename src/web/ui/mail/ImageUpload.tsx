import { Upload } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { useHere } from '../useHere.ts'
import { useLatest } from '../useLatest.ts'
import { sendImage, type SentImage } from './sendImage.ts'

interface Props {
  onStored: (image: SentImage) => void
}

/** Puts an image from this computer where messages can load it from. */
export function ImageUpload({ onStored }: Props): ReactNode {
  const [isSending, setIsSending] = useState(false)
  // Meanwhile other things may have been written, which must not be undone.
  const latest = useLatest(onStored)
  const here = useHere()
  const take = async (file: File | undefined) => {
    if (!file) return
    setIsSending(true)
    try {
      const image = await sendImage(file)
      if (here.current) latest.current(image)
      else toast.info('The image came after its block was closed. Open it and take it again.')
    } catch (problem) {
      toast.error((problem as Error).message)
    } finally {
      setIsSending(false)
    }
  }
  return (
    <label className={`btn btn-sm mb-3 ${isSending ? 'btn-disabled' : ''}`}>
      <Upload size={14} aria-hidden="true" /> {isSending ? 'Sending …' : 'Take an image'}
      <input
        type="file"
        className="sr-only"
        accept="image/png,image/jpeg,image/gif,image/webp"
        disabled={isSending}
        onChange={(event) => {
          void take(event.target.files?.[0])
          // The same file can be taken again.
          event.target.value = ''
        }}
      />
    </label>
  )
}
