import type { Priority } from '@uvula/core'
import type { Discovered, Source } from './discovery.js'

/** Parameters asked of one controller in one request. */
export interface Request {
  readonly controller: number
  readonly sources: readonly Source[]
}

const URGENCY: readonly Priority[] = ['always', 'often', 'seldom']
/** Of the turns left over, this many go to channels asked often for each one asked seldom. */
const OFTEN_TURNS = 3

/**
 * Which requests are due in a round. What moves fast is asked every round; the rest too when the round has room for it,
 * else in turn, so that a slow link still sees trims and airflow as often as it can.
 */
export class PollPlan {
  private readonly always: readonly Request[]
  private readonly often: readonly Request[]
  private readonly seldom: readonly Request[]
  private turn = 0

  constructor(d: Discovered) {
    const pack = (priority: Priority): Request[] => {
      const wanted = d.sources.filter((s) => s.row.priority === priority)
      return [...new Set(wanted.map((s) => s.controller))].flatMap((controller) => {
        const list = wanted.filter((s) => s.controller === controller)
        return Array.from({ length: Math.ceil(list.length / d.perRequest) }, (_, i) => ({
          controller,
          sources: list.slice(i * d.perRequest, (i + 1) * d.perRequest),
        }))
      })
    }
    ;[this.always, this.often, this.seldom] = URGENCY.map(pack)
  }

  /** @param room - requests that fit the round at the link's present speed */
  round(room: number): readonly Request[] {
    const rest = [...this.often, ...this.seldom]
    if (this.always.length + rest.length <= room) return [...this.always, ...rest]
    // even a link without room asks one more a round, else coolant and loop state were never seen
    const extra = Math.max(1, Math.floor(room) - this.always.length)
    return [...this.always, ...Array.from({ length: Math.min(extra, rest.length) }, () => this.nextInTurn())]
  }

  private nextInTurn(): Request {
    const n = this.turn++
    const seldomTurn = this.often.length === 0 || (this.seldom.length > 0 && n % (OFTEN_TURNS + 1) === OFTEN_TURNS)
    const list = seldomTurn ? this.seldom : this.often
    const at = seldomTurn ? Math.floor(n / (OFTEN_TURNS + 1)) : n - Math.floor(n / (OFTEN_TURNS + 1))
    return list[at % list.length]
  }
}
