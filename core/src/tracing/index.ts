export * from './ledger.js'
export * from './site.js'
