export { hookCaller, type HookCaller } from './callHook.ts'
export { newHookSecret } from './secret.ts'
