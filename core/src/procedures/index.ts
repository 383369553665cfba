export * from './procedure.js'
export * from './library.js'
export * from './timers.js'
