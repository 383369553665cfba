export * from './create-app.js'
export * from './database/restore.js'
export * from './database/options.js'
