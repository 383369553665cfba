/** Tick that says that somebody looked for liquid standing in the intake after a feed. */
export const POOLS_LOOKED = 'pools-looked-at'
