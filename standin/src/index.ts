export * from './vehicleStandIn.js'
export { FEET, parseFoot, type Foot, type FootKind } from './foot.js'
export * from './gaugesStandIn.js'
export * from './transducerStandIn.js'
