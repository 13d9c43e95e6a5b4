export { hashPassword } from './secrets.ts'
export { findSession, rotateSession, signIn, signOut, type SignedIn } from './sessions.ts'
export { createApiKey, listApiKeys, revokeApiKey, shopOfApiKey } from './apiKeys.ts'
