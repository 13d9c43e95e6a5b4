export { findImage, MAX_IMAGE_BYTES, storeImage } from './store.ts'
