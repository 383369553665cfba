export * from './api.js'
export * from './live.js'
