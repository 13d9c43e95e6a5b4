export { addressBook } from './book.ts'
export { addSender, confirmSender, removeSender } from './senders.ts'
export { groupsOf, removeGroup, saveGroup } from './staffGroups.ts'
export { readSenderToken, senderToken } from './token.ts'
