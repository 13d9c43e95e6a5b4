export { documentsOf, MAX_DOCUMENT_BYTES, storeDocument } from './documents.ts'
export { listFiles, removeFile, replaceImage } from './library.ts'
export { findImage, MAX_IMAGE_BYTES, storeImage } from './store.ts'
