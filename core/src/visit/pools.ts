/** Tick that says that somebody looked for liquid standing in the intake after a feed. */
export const POOLS_LOOKED = 'pools-looked-at'
/** Two inlets that were fed together are looked into each. */
export const POOLS_OF_BOTH: readonly string[] = [POOLS_LOOKED, `${POOLS_LOOKED}:2`]
