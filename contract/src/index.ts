export * from './api.js'
