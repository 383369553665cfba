/** A STOP caution: the danger and the rule, and what to do if it has happened. */
export interface StopCaution {
  readonly id: string
  readonly text: string
  readonly ifHappened: string
}

/** Cautions that need the technician's tick before their step can run. Local codes, the maker's information and the label win. */
export const STOP_CAUTIONS = {
  'throttle-plate-shuts': {
    id: 'throttle-plate-shuts',
    text: 'A throttle plate drives shut on fingers: key out and away, connector off, props soft and counted.',
    ifHappened: 'never force it back; command it open or take it off.',
  },
  'belts-fan-hot-coolant': {
    id: 'belts-fan-hot-coolant',
    text: 'Belts, fan, hot coolant: engine off, cooled, pressure released before the first fastener. Neutral or park, brake, start-stop off.',
    ifHappened: 'cool a scald under water for twenty minutes; engine off before reaching in.',
  },
  'exhaust-gas': {
    id: 'exhaust-gas',
    text: 'Exhaust gas kills in a closed bay: extraction on or open air before the engine runs.',
    ifHappened: 'out into the open at once, everybody; engine off from where the air is good; call for help.',
  },
  'vehicle-moves': {
    id: 'vehicle-moves',
    text: 'The car moves or starts itself: neutral or park, brake, chocks, start-stop and hybrid held by their procedure; hands and sleeves clear of belts and fan.',
    ifHappened: 'key off; nobody before or behind it until it stands.',
  },
} as const satisfies Readonly<Record<string, StopCaution>>

export type StopId = keyof typeof STOP_CAUTIONS
