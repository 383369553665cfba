import type { Band } from '@uvula/core'
import './scale.css'

/** A scale with ticks, the band a reading should be in, and the pointers of one or two readings. */
export function Scale({ band, value, before, label }: { band: Band; value?: number; before?: number; label: string }) {
  const at = (x: number): string =>
    `${Math.min(100, Math.max(0, (100 * (x - band.scaleMin)) / (band.scaleMax - band.scaleMin)))}%`
  const outside = value !== undefined && (value < band.scaleMin || value > band.scaleMax)
  return (
    <div className="scale" role="img" aria-label={label}>
      <div className="scale-band" style={{ left: at(band.low), width: `calc(${at(band.high)} - ${at(band.low)})` }} />
      <div className="scale-ticks" />
      {before !== undefined && <div className="scale-before" style={{ left: at(before) }} />}
      {value !== undefined && (
        <div className={`scale-pointer ${outside ? 'outside' : ''}`} style={{ left: at(value) }} />
      )}
    </div>
  )
}
