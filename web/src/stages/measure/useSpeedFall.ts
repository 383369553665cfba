import { mayKeepLive } from '@uvula/core'
import { newestValues } from '../../live/liveReadings.js'
import { liveStore, useLive } from '../../live/liveStore.js'
import { useShop } from '../../store/visit.js'

/** The speed before is a mean over so long, and after over so long [s]. */
const BEFORE_S = 2
const AFTER_S = 1.5
/** A cylinder is out so long before the fall is read [ms]; a catalyst bears a few seconds. */
const OUT_MS = 4000
/** Fewer readings of the speed are no mean. */
const LEAST = 3

/** Mean speed of the last seconds of a session; undefined without enough of it. */
function meanRpm(seconds: number): number | undefined {
  const { samples } = liveStore.snapshot()
  const end = samples.at(-1)?.t ?? 0
  const read = samples.filter((s) => end - s.t <= seconds).flatMap((s) => s.values.rpm ?? [])
  return read.length < LEAST ? undefined : read.reduce((a, b) => a + b, 0) / read.length
}

/** The speed as it is read live, where it may be kept, and how far it falls while something is put out. */
export function useSpeedFall(): {
  readonly rpm: number | undefined
  readonly fall: () => Promise<number | undefined>
} {
  const live = useLive()
  const shop = useShop()
  const may = live.state?.phase === 'live' && mayKeepLive(live.state.standIn, shop?.demo === true).ok
  const fall = async (): Promise<number | undefined> => {
    const before = meanRpm(BEFORE_S)
    await new Promise((r) => setTimeout(r, OUT_MS))
    const after = meanRpm(AFTER_S)
    return before === undefined || after === undefined ? undefined : before - after
  }
  return { rpm: may ? newestValues(live.samples).rpm : undefined, fall }
}
