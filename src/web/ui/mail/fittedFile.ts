/** Twice as wide as a message, for screens that are that sharp. */
const WIDEST = 1200
const JPEG_QUALITY = 0.85

/** Proportions that a picture is cut to, its middle being kept. */
export interface Proportions {
  width: number
  height: number
}

/**
 * A picture as messages need it: no wider than screens can show, cut to proportions where that is asked, without
 * what the camera wrote into it (where it was taken, with what). Moving pictures, and those that the browser cannot draw,
 * stay as they are.
 */
export async function fittedFile(file: File, proportions?: Proportions): Promise<File> {
  if (file.type !== 'image/png' && file.type !== 'image/jpeg' && file.type !== 'image/webp') return file // prettier-ignore
  const bitmap = await drawn(file)
  if (!bitmap) return file
  const cut = cutTo(bitmap, proportions)
  const scale = Math.min(1, WIDEST / cut.width)
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(cut.width * scale))
  canvas.height = Math.max(1, Math.round(cut.height * scale))
  const context = canvas.getContext('2d')
  if (!context) return file
  context.drawImage(bitmap, cut.left, cut.top, cut.width, cut.height, 0, 0, canvas.width, canvas.height) // prettier-ignore
  bitmap.close()
  // Mail programs that show no WebP are many still.
  const type = file.type === 'image/jpeg' ? 'image/jpeg' : 'image/png'
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, type, JPEG_QUALITY)) // prettier-ignore
  const isSame = !proportions && scale === 1 && file.type === 'image/png'
  if (!blob || (isSame && blob.size >= file.size)) return file
  return new File([blob], file.name, { type })
}

/** Turned as the camera says. */
async function drawn(file: File): Promise<ImageBitmap | null> {
  try {
    return await createImageBitmap(file, { imageOrientation: 'from-image' })
  } catch {
    // The server says what is wrong with it.
    return null
  }
}

function cutTo({ width, height }: ImageBitmap, to: Proportions | undefined) {
  if (!to) return { left: 0, top: 0, width, height }
  const ratio = to.width / to.height
  const isTooWide = width / height > ratio
  const own = isTooWide
    ? { width: height * ratio, height }
    : { width, height: width / ratio }
  return { ...own, left: (width - own.width) / 2, top: (height - own.height) / 2 }
} // prettier-ignore
