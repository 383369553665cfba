export * from './deposits.js'
