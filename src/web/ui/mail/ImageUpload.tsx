import type { ReactNode } from 'react'
import { UploadButton } from '../fields/UploadButton.tsx'
import { sendImage, type SentImage } from './sendImage.ts'

interface Props {
  onStored: (image: SentImage) => void
}

/** Puts an image from this computer where messages can load it from. */
export function ImageUpload({ onStored }: Props): ReactNode {
  return (
    <UploadButton
      label="Take an image"
      accept="image/png,image/jpeg,image/gif,image/webp"
      className="btn-sm mb-3"
      send={sendImage}
      onStored={onStored}
      cameTooLate="The image came after its block was closed. Open it and take it again."
    />
  )
}
