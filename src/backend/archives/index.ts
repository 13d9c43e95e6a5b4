export { packArchive } from './pack.ts'
export { readArchive, MOST_ARCHIVE_BYTES } from './read.ts'
export { takeArchive } from './take.ts'
