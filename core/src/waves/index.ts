export * from './wave.js'
export * from './readWave.js'
export * from './calibration.js'
export { writeWav } from './writeWav.js'
export {
  balanceOf,
  type Balance,
  type BalanceAsked,
  type CylinderPull,
  type OddCylinder,
  type OrderStrength,
} from './balance.js'
export { type OddKind } from './odd.js'
export { speedOf, type Speed, type SpeedAsked, type SpeedAt } from './speed.js'
