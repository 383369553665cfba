import { CONFIRMED_FIELDS, ENGINE_PATTERNS, type StationId, type Vehicle } from '@uvula/core'

const pattern = (id: string): Omit<Vehicle, 'name' | 'altitudeM'> => ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle

/** The shop's height [m]: sea-level rules mislead here. */
export const SHOP_ALTITUDE_M = 1180

/** A car of the valley: made up, like its owner. */
export interface DemoCar {
  readonly key: string
  readonly plate: string
  readonly customer: string
  readonly odometerKm: number
  readonly spec: Vehicle
}

const car = (
  key: string,
  plate: string,
  customer: string,
  odometerKm: number,
  name: string,
  spec: Omit<Vehicle, 'name' | 'altitudeM'>,
): DemoCar => ({
  key,
  plate,
  customer,
  odometerKm,
  // read off their papers when they first came
  spec: { ...spec, name, altitudeM: SHOP_ALTITUDE_M, confirmed: CONFIRMED_FIELDS, idleSpecFrom: 'label' },
})

export const CARS = {
  vet: car('vet', 'VAL 204', 'Dr Amsel, vet', 148_300, "Vet's estate", {
    ...pattern('v6-maf'),
    displacementL: 2.9,
    throttleBoreMm: 66,
  }),
  library: car('library', 'VAL 77 B', 'Valley library', 96_120, 'Mobile library', {
    ...pattern('four-maf'),
    displacementL: 2.4,
    throttleBoreMm: 60,
  }),
  bakery: car('bakery', 'VAL 311', 'Oberhof bakery', 187_450, 'Bakery van', {
    ...pattern('four-valve'),
    displacementL: 1.6,
  }),
  nurse: car('nurse', 'VAL 58', 'District nurse', 74_900, "Nurse's small car", {
    ...pattern('four-map'),
    displacementL: 1.2,
    throttleBoreMm: 46,
  }),
  choir: car('choir', 'VAL 9 C', 'St Lucy choir', 162_700, "Choir's minibus", {
    ...pattern('six-line'),
    displacementL: 2.8,
    trimBanks: 2,
    separator: 'under-manifold',
    stations: { separator: { material: 'plastic', fittedOn: '2011-09-01' } },
  }),
  forester: car('forester', 'VAL 66 F', 'Upper forest', 212_800, "Forester's diesel", {
    ...pattern('diesel-four'),
    displacementL: 2.2,
  }),
  teacher: car('teacher', 'VAL 640', 'Ms Lindgren, teacher', 41_050, "Teacher's hatchback", {
    ...pattern('four-maf'),
    displacementL: 1.8,
    throttleBoreMm: 54,
  }),
  lift: car('lift', 'VAL 12 L', 'Summit lifts', 203_600, "Lift mechanic's pick-up", {
    ...pattern('v8-maf'),
    throttleBodies: 2,
    throttleBoreMm: 54,
    inlets: 2,
  }),
  warden: car('warden', 'VAL 83 H', 'Ridge hut', 118_240, "Hut warden's van", {
    ...pattern('four-maf'),
    displacementL: 2.4,
    throttleBoreMm: 60,
  }),
  quarry: car('quarry', 'VAL 5 Q', 'Upper quarry', 171_300, "Quarry loader's pick-up", {
    ...pattern('v6-maf'),
    displacementL: 3.6,
    metering: 'maf+map',
    throttleBoreMm: 72,
  }),
  sawmill: car('sawmill', 'VAL 402', 'Lower sawmill', 221_900, "Sawmill's wagon", {
    ...pattern('v6-maf'),
    displacementL: 3.2,
    throttleBoreMm: 70,
  }),
  hill: car('hill', 'VAL 1 R', 'Ridge hill-climb club', 38_400, 'Hill-climb car', { ...pattern('four-bodies') }),
} as const

/** What a look finds, in the words a technician would note. */
export interface Seen {
  readonly station: StationId
  readonly item: string
  readonly note: string
}
