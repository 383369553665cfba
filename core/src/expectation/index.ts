export * from './swallow.js'
export * from './bands.js'
