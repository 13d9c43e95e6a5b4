import { useQuery } from '@tanstack/react-query'
import { Images } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { libraryResponse } from '../../../contract/files.ts'
import { getJson } from '../data/api.ts'
import { UploadButton } from '../fields/UploadButton.tsx'
import { Sheet } from '../Sheet.tsx'
import { sendImage, type SentImage } from './sendImage.ts'

interface Props {
  onStored: (image: SentImage) => void
}

/** Puts an image where messages can load it from: from this computer, or one that is there already. */
export function ImageUpload({ onStored }: Props): ReactNode {
  const [isOpen, setIsOpen] = useState(false)
  return (
    <span className="mb-3 inline-flex gap-1">
      <UploadButton
        label="Take an image"
        accept="image/png,image/jpeg,image/gif,image/webp"
        className="btn-sm"
        send={sendImage}
        onStored={onStored}
        cameTooLate="The image came after its block was closed. Open it and take it again."
      />
      <button type="button" className="btn btn-sm" onClick={() => setIsOpen(true)}>
        <Images size={14} aria-hidden="true" /> From the shop’s
      </button>
      {isOpen && (
        <PicturePicker
          onPick={(picture) => {
            setIsOpen(false)
            onStored(picture)
          }}
          onClose={() => setIsOpen(false)}
        />
      )}
    </span>
  )
}

function PicturePicker({
  onPick,
  onClose,
}: {
  onPick: (picture: SentImage) => void
  onClose: () => void
}): ReactNode {
  const { data, error } = useQuery({
    queryKey: ['files'],
    queryFn: () => getJson('/api/files', libraryResponse),
  })
  return (
    <Sheet title="The shop’s pictures" onClose={onClose}>
      {error && <p role="alert">{error.message}</p>}
      {data?.pictures.length === 0 && <p className="text-secondary">There are none yet.</p>}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-3">
        {data?.pictures.map(({ id, url, name, width, height }) => (
          <li key={id}>
            <button
              type="button"
              className="panel block w-full cursor-pointer overflow-hidden p-0 text-left hover:border-primary"
              onClick={() => onPick({ url, width, height })}
            >
              <span className="flex h-28 items-center justify-center bg-base-200 p-1">
                <img src={url} alt="" className="max-h-full max-w-full object-contain" />
              </span>
              <span className="block truncate px-2 py-1 text-xs">{name}</span>
            </button>
          </li>
        ))}
      </ul>
    </Sheet>
  )
}
