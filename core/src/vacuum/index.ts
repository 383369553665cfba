export * from './drops.js'
export * from './gauge.js'
export * from './throttles.js'
export * from './pump.js'
