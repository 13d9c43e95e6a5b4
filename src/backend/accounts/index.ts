export { hashPassword, PASSWORD_MAX, PASSWORD_MIN, randomToken } from './secrets.ts'
export { findSession, rotateSession, signIn, signOut, type SignedIn } from './sessions.ts'
export { createApiKey, listApiKeys, revokeApiKey, shopOfApiKey, type ApiKey } from './apiKeys.ts'
