/** Why a command could not be done, and what to do about it, for whoever typed it. */
export class CommandError extends Error {}
