import type { Vehicle } from './vehicle.js'

/** Usual firing orders by cylinder count and banks; a car whose order is another says so by its own record. */
const ORDERS: Readonly<Record<string, readonly number[]>> = {
  '1/1': [1],
  '2/1': [1, 2],
  '3/1': [1, 3, 2],
  '4/1': [1, 3, 4, 2],
  '5/1': [1, 2, 4, 5, 3],
  '6/1': [1, 5, 3, 6, 2, 4],
  // two banks: cylinders 1..n/2 on bank 1; banks take turns
  '4/2': [1, 3, 2, 4],
  '6/2': [1, 4, 2, 5, 3, 6],
  '8/1': [1, 6, 2, 5, 8, 3, 7, 4],
  '8/2': [1, 5, 4, 8, 6, 3, 7, 2],
  '10/2': [1, 6, 5, 10, 2, 7, 3, 8, 4, 9],
  '12/2': [1, 7, 5, 11, 3, 9, 6, 12, 2, 8, 4, 10],
}

/** Firing order: cylinder numbers, cylinder 1 first; ascending where none is usual. */
export const firingOrderOf = (v: Pick<Vehicle, 'cylinders' | 'banks'>): readonly number[] =>
  ORDERS[`${v.cylinders}/${v.banks}`] ?? Array.from({ length: v.cylinders }, (_, i) => i + 1)

/** Bank of a cylinder: 1 the lower half of the numbers, 2 the upper; 1 where there is one bank. */
export const bankOfCylinder = (v: Pick<Vehicle, 'cylinders' | 'banks'>, cylinder: number): 1 | 2 =>
  v.banks === 2 && cylinder > v.cylinders / 2 ? 2 : 1
