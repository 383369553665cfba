/** What the screens of a feed share: the sheet, its figure, its tones, its words. */
export const SCREEN =
  'hands px-48 py-28 inset-0 overflow-auto fixed z-30 grid grid-rows-[auto_1fr_auto_auto] gap-8 select-none touch-manipulation narrow:p-18'
/** The figure read from two metres. */
export const BIG =
  'hands-figure font-semibold text-[length:min(44vh,_30vw)] leading-figure font-fig [font-variant-numeric:tabular-nums]'

/** Tones [Hz]: open, shut, a beat of the count, stopped. */
export const HIGH = 990
export const LOW = 330
export const COUNT = 660
export const STOPPED = 220

/** The first letter large. */
export const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
