export * from './tables.js'
export * from './limits.js'
export * from './plan.js'
export * from './follow.js'
