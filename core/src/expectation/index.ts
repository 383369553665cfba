export * from './swallow.js'
