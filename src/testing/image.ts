/** A PNG of 3 × 2 pixels. */
export const IMAGE = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAMAAAACCAIAAAASFvFNAAAAEElEQVR4nGPYWSkPQQxwFgBSrAfnIOuQCAAAAABJRU5ErkJggg==',
  'base64',
)
