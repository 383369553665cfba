export * from './cautions.js'
