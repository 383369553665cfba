export * from './api.js'
export * from './live.js'
export * from './forms.js'
export * from './gauges.js'
