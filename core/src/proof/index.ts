export * from './compare.js'
