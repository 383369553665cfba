export * from './swallow.js'
export * from './bands.js'
export * from './along.js'
export * from './blockage.js'
