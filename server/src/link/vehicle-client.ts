import {
  ANSWER_FOLLOWS,
  CAN_IDS,
  canFrame,
  CONTINUE,
  POSITIVE,
  Reassembler,
  refusalOf,
  segment,
  type LinkRefusal,
} from '@uvula/core'
import type { FrameLink } from './frame-link.js'

/** Nothing came in time. */
export class NoAnswer extends Error {}
/** The link ended meanwhile. */
export class LinkEnded extends Error {}
/** The controller said no. */
export class Refused extends Error {
  constructor(readonly refusal: LinkRefusal) {
    super(refusal.reason)
  }
}

/** How long an answer may take [ms]; how long after "answer follows"; how long others are waited for after the first. */
const ANSWER_MS = 1000
/** Once a link's own pace is known, a lost frame costs a few answers' time and not a second. */
const ANSWER_LEAST_MS = 300
const ANSWERS_TIME = 5
const PACE_AFTER = 20
const FOLLOWS_MS = 5000
const GATHER_MS = 60

interface Waiting {
  readonly service: number
  /** True when a message answers this question and not an earlier one. */
  readonly fits: (message: Uint8Array) => boolean
  readonly gather: boolean
  readonly answers: Map<number, Uint8Array>
  readonly done: (answers: Map<number, Uint8Array>) => void
  readonly fail: (e: Error) => void
  timer: NodeJS.Timeout
}

/** Asks a vehicle, one question at a time, over any FrameLink. */
export class VehicleClient {
  private readonly parts = new Map<number, Reassembler>()
  private waiting: Waiting | undefined
  private queue: Promise<unknown> = Promise.resolve()
  private over = false
  /** Frames that did not fit together. */
  broken = 0
  /** Time from question to answer, smoothed [ms]. */
  latencyMs = 0
  private answered = 0

  constructor(private readonly link: FrameLink) {
    link.onFrame((f) => this.receive(f.id, f.data))
    link.onClose(() => {
      this.over = true
      this.finish((w) => w.fail(new LinkEnded('The link ended.')))
    })
  }

  /** Asks one controller. @throws NoAnswer, Refused, LinkEnded */
  async ask(request: readonly number[], controller = 0, fits: Waiting['fits'] = () => true): Promise<Uint8Array> {
    const answers = await this.inTurn(request, CAN_IDS.request + controller, false, fits)
    return answers.values().next().value!
  }

  /** Asks every controller and gathers what comes, by controller 0..7. @throws NoAnswer, Refused, LinkEnded */
  askEverybody(request: readonly number[]): Promise<Map<number, Uint8Array>> {
    return this.inTurn(request, CAN_IDS.everybody, true, () => true)
  }

  close(): void {
    this.link.close()
  }

  get skippedBytes(): number {
    return this.link.skippedBytes
  }

  private inTurn(
    request: readonly number[],
    id: number,
    gather: boolean,
    fits: Waiting['fits'],
  ): Promise<Map<number, Uint8Array>> {
    const turn = this.queue.then(() => this.send(request, id, gather, fits))
    this.queue = turn.catch(() => undefined)
    return turn
  }

  private send(
    request: readonly number[],
    id: number,
    gather: boolean,
    fits: Waiting['fits'],
  ): Promise<Map<number, Uint8Array>> {
    if (this.over) return Promise.reject(new LinkEnded('The link ended.'))
    const began = performance.now()
    return new Promise<Map<number, Uint8Array>>((done, fail) => {
      this.waiting = {
        service: request[0],
        fits,
        gather,
        answers: new Map(),
        done,
        fail,
        timer: this.until(this.patienceMs),
      }
      // a question is never longer than a single frame
      this.link.send(canFrame(id, segment(Uint8Array.from(request))[0]))
    }).then((answers) => {
      const took = performance.now() - began
      this.latencyMs = this.answered++ === 0 ? took : 0.8 * this.latencyMs + 0.2 * took
      return answers
    })
  }

  private get patienceMs(): number {
    if (this.answered < PACE_AFTER) return ANSWER_MS
    return Math.min(ANSWER_MS, Math.max(ANSWER_LEAST_MS, ANSWERS_TIME * this.latencyMs))
  }

  private until(ms: number): NodeJS.Timeout {
    return setTimeout(() => {
      this.finish((w) => (w.answers.size ? w.done(w.answers) : w.fail(new NoAnswer('The vehicle does not answer.'))))
    }, ms)
  }

  private finish(how: (w: Waiting) => void): void {
    const w = this.waiting
    if (!w) return
    clearTimeout(w.timer)
    this.waiting = undefined
    how(w)
  }

  private receive(id: number, data: Uint8Array): void {
    const controller = id - CAN_IDS.answer
    if (controller < 0 || controller >= CAN_IDS.controllers) return
    let parts = this.parts.get(controller)
    if (!parts) this.parts.set(controller, (parts = new Reassembler()))
    const got = parts.accept(data)
    if (got.kind === 'first') this.link.send(canFrame(CAN_IDS.request + controller, CONTINUE))
    if (got.kind === 'broken') this.broken++
    if (got.kind === 'message') this.heard(controller, got.message)
  }

  private heard(controller: number, message: Uint8Array): void {
    const w = this.waiting
    if (!w) return
    const refusal = refusalOf(message)
    if (refusal && refusal.service === w.service) {
      if (refusal.code === ANSWER_FOLLOWS) {
        clearTimeout(w.timer)
        w.timer = this.until(FOLLOWS_MS)
      } else if (!w.gather) this.finish(() => w.fail(new Refused(refusal)))
      return
    }
    // a late answer to an earlier question, or a spoilt one, answers nothing
    if (message[0] !== w.service + POSITIVE || !w.fits(message)) return
    const first = w.answers.size === 0
    w.answers.set(controller, message)
    if (!w.gather) return this.finish(() => w.done(w.answers))
    if (first) {
      clearTimeout(w.timer)
      w.timer = this.until(GATHER_MS)
    }
  }
}
