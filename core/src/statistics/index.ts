export * from './guards.js'
export * from './summary.js'
export * from './student.js'
export * from './bootstrap.js'
