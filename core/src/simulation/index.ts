export * from './faults.js'
export * from './drive.js'
export * from './simulate.js'
