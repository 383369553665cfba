import { Dialog } from 'radix-ui'
import { useRef } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { formatIn, spreadOf, type ThrottleAdvice, type Unit } from '@uvula/core'
import { HOTKEYS } from '../../kit/hotkeys.js'

/** A tap so soon after another is a slip [ms]. */
const SLIP_MS = 400

/** The throttles with both hands at the screws: bars and spread to be read from two metres, one target that goes on. */
export function ThrottlesBig({
  vacuumKpa,
  unit,
  advice,
  limitKpa,
  turned,
  may,
  onTurned,
  onKeep,
  onClose,
}: {
  vacuumKpa: readonly number[]
  unit: Unit
  advice: ThrottleAdvice | undefined
  limitKpa: number
  turned: boolean
  /** Whether a row may be kept now. */
  may: boolean
  onTurned: () => void
  onKeep: () => void
  onClose: () => void
}) {
  const spread = spreadOf(vacuumKpa)
  const low = Math.min(...vacuumKpa)
  const span = Math.max(2 * limitKpa, spread)
  const turn = advice?.adjuster !== undefined && !turned
  const last = useRef(0)
  const go = (timeStamp: number): void => {
    if (!may || timeStamp - last.current < SLIP_MS) return
    last.current = timeStamp
    if (turn) onTurned()
    else onKeep()
  }
  useHotkeys('space', (e) => !e.repeat && go(e.timeStamp), { ...HOTKEYS, preventDefault: true }, [may, turn])
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="throttles-big"
          className="fixed inset-0 z-50 grid grid-rows-[auto_minmax(0,1fr)_auto] gap-16 bg-now p-gap text-now-ink focus:outline-none"
          onClick={(e) => go(e.timeStamp)}
        >
          <Dialog.Title className="text-clock leading-tight font-semibold">
            {turn ? advice.say : (advice?.say ?? 'Let it settle, then keep the row.')}
          </Dialog.Title>
          <div className="grid min-h-0 grid-cols-[auto_minmax(0,1fr)] grid-rows-[minmax(0,1fr)] gap-40 overflow-hidden narrow:grid-cols-1 narrow:grid-rows-[auto_minmax(0,1fr)] narrow:gap-12">
            <p className="self-end leading-none" aria-label="spread">
              <span className="fig text-[220px] leading-none narrow:text-[160px]">{formatIn(spread, unit)}</span>{' '}
              <span className="text-name">
                {unit.symbol} apart, {formatIn(limitKpa, unit)} allowed
              </span>
            </p>
            <ol className="flex min-h-0 items-stretch gap-16" aria-label="throttles now">
              {vacuumKpa.map((x, i) => (
                <li key={i} className="flex min-h-0 flex-1 flex-col justify-end text-center">
                  <span className="fig text-bench leading-none narrow:text-reading">{formatIn(x, unit)}</span>
                  <svg
                    className="h-0 min-h-0 w-full flex-1"
                    preserveAspectRatio="none"
                    viewBox="0 0 10 100"
                    aria-hidden="true"
                  >
                    <rect
                      className="fill-now-ink"
                      x="1"
                      width="8"
                      y={90 - (80 * (x - low)) / span}
                      height={10 + (80 * (x - low)) / span}
                    />
                  </svg>
                  <span className="text-name">{i + 1}</span>
                </li>
              ))}
            </ol>
          </div>
          <div className="flex gap-16">
            <button
              type="button"
              className="min-h-[96px] flex-1 border-4 border-now-ink px-gap text-center text-name font-semibold"
              disabled={!may}
            >
              {turn ? 'turned: tap anywhere' : 'keep this row: tap anywhere'}
            </button>
            <button
              type="button"
              className="min-h-[96px] border-2 border-now-ink px-gap text-name"
              onClick={(e) => {
                e.stopPropagation()
                onClose()
              }}
            >
              back
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
