export * from './quantities.js'
