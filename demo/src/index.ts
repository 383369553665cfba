export * from './cars.js'
export * from './shop.js'
