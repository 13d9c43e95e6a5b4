export { hashPassword, hashToken, randomToken } from './secrets.ts'
export { findSession, rotateSession, signIn, signOut, type SignedIn } from './sessions.ts'
export { createApiKey, keepApiKey, listApiKeys, revokeApiKey, shopOfApiKey } from './apiKeys.ts'
