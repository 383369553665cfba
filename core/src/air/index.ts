export * from './atmosphere.js'
export * from './orifice.js'
