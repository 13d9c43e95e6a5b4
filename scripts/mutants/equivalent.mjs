/** Mutants that no test can find, for what they change makes no difference: by name, with the reason. */
export const EQUIVALENT = {}
