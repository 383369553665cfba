export * from './ledger.js'
export * from './site.js'
export * from './nextPlace.js'
