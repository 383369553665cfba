import { randomUUID } from 'node:crypto'
import { Inject, Injectable } from '@nestjs/common'
import type { PairForm, PairingCode, Person, PersonForm, Role, SignInForm, Standing } from '@uvula/contract'
import { badField, notFound, tooManyGuesses } from '../records/problem.js'
import { ACCESS_FILE, type AccessFile, type KeptPerson, type KeptTablet } from './access-file.js'
import { Guesses } from './guesses.js'
import { isSecret, keepSecret, newCode, newToken, plainCode, tokenHash } from './secrets.js'

/** A working day; the next morning somebody signs in again [ms]. */
const SESSION_MS = 12 * 60 * 60_000
const CODE_MS = 10 * 60_000
/** When a tablet was seen last is kept no finer than this [ms]: it is written to the disk. */
const SEEN_EVERY_MS = 60 * 60_000
const PEOPLE_MOST = 60
const TABLETS_MOST = 60
/** Tries at the way in that all addresses have together before the whole network waits. */
const ALL_FREE = 30
const EVERYWHERE = 'everywhere'

/** What is open to somebody who is out is ended so much later: the answer to whoever said so goes first [ms]. */
export const HANG_UP_AFTER_MS = 200

/** An answer under way. */
interface Held {
  on: (event: 'close', then: () => void) => unknown
  destroy: () => unknown
}

/** What a request from the network shows. */
export interface Shown {
  readonly tablet?: string
  readonly hand?: string
}

/** Who asks, once it is known. */
export interface Asking {
  readonly tablet: KeptTablet
  readonly me?: Person
}

const person = ({ id, name, role }: KeptPerson): Person => ({ id, name, role })
const sameName = (a: string, b: string): boolean => a.toLocaleLowerCase() === b.toLocaleLowerCase()

/** Who may come in from the shop's network: tablets that were let in once, and the people who sign in on them. */
@Injectable()
export class AccessService {
  private readonly atDoor = new Guesses()
  private readonly atDoorTogether = new Guesses(ALL_FREE)
  private readonly atPin = new Guesses()
  private readonly underWay = new Set<{ readonly shown: Shown; readonly answer: Held }>()
  private code: { readonly code: string; readonly untilMs: number } | undefined

  constructor(@Inject(ACCESS_FILE) private readonly file: AccessFile) {}

  get people(): readonly Person[] {
    return this.file.state.people.map(person)
  }

  /** Holds an answer that is under way, so that it can be ended when who asked for it is out. */
  holdOpen(shown: Shown, answer: Held): void {
    const held = { shown, answer }
    this.underWay.add(held)
    answer.on('close', () => this.underWay.delete(held))
  }

  /** Whether somebody could come in if the way were open. */
  get isReady(): boolean {
    return this.file.state.passphrase !== undefined && this.file.state.people.some((p) => p.role === 'owner')
  }

  /** Who asks; undefined for a tablet that was never let in. */
  asking(shown: Shown, nowMs = Date.now()): Asking | undefined {
    const { tablets, sessions, people } = this.file.state
    const token = shown.tablet && tokenHash(shown.tablet)
    const tablet = tablets.find((t) => t.token === token)
    if (!tablet) return undefined
    const hand = shown.hand && tokenHash(shown.hand)
    const session = sessions.find((s) => s.token === hand && s.tablet === tablet.id && Date.parse(s.until) > nowMs)
    const me = people.find((p) => p.id === session?.person)
    this.seen(tablet, nowMs)
    return { tablet, ...(me ? { me: person(me) } : {}) }
  }

  standing(asking: Asking | undefined): Standing {
    return { here: false, paired: asking !== undefined, me: asking?.me, people: asking ? this.people : [] }
  }

  /** Whether entries under this name may come from the tablet. */
  isHand(tablet: KeptTablet, name: string): boolean {
    return tablet.hands.includes(name)
  }

  /** Chooses what lets tablets in where no code was made. */
  async choosePassphrase(passphrase: string): Promise<void> {
    this.file.change({ passphrase: await keepSecret(passphrase) })
  }

  /** @throws ProblemException for a name that somebody has */
  async addPerson({ name, pin, role }: PersonForm): Promise<void> {
    const kept: KeptPerson = { id: randomUUID(), name, role, pin: await keepSecret(pin) }
    const { people } = this.file.state
    if (people.length >= PEOPLE_MOST) throw badField('name', name, `at most ${PEOPLE_MOST} people`)
    if (people.some((p) => sameName(p.name, name)))
      throw badField('name', name, 'a name that nobody here has yet: entries are told apart by it')
    this.file.change({ people: [...people, kept] })
  }

  /** Other digits: whoever is signed in under the old ones is out. */
  async choosePin(id: string, pin: string): Promise<void> {
    this.known(id)
    const kept = await keepSecret(pin)
    const { people, sessions } = this.file.state
    this.file.change({
      people: people.map((p) => (p.id === id ? { ...p, pin: kept } : p)),
      sessions: sessions.filter((s) => s.person !== id),
    })
    this.hangUp()
  }

  /** @throws ProblemException for the last owner */
  chooseRole(id: string, role: Role): void {
    const was = this.known(id)
    if (role !== 'owner') this.requireOtherOwner(was, 'role')
    this.file.change({ people: this.file.state.people.map((p) => (p.id === id ? { ...p, role } : p)) })
  }

  /** Somebody signs in no more; what was entered under the name stays. @throws ProblemException for the last owner */
  removePerson(id: string): void {
    this.requireOtherOwner(this.known(id), 'id')
    const { people, sessions } = this.file.state
    this.file.change({ people: people.filter((p) => p.id !== id), sessions: sessions.filter((s) => s.person !== id) })
    this.hangUp()
  }

  forgetTablet(id: string): void {
    const { tablets, sessions } = this.file.state
    if (!tablets.some((t) => t.id === id)) throw notFound('This tablet')
    this.file.change({ tablets: tablets.filter((t) => t.id !== id), sessions: sessions.filter((s) => s.tablet !== id) })
    this.hangUp()
  }

  /** A code that lets one tablet in; an earlier one holds no more. */
  newPairing(links: (code: string) => readonly string[], nowMs = Date.now()): PairingCode {
    this.code = { code: newCode(), untilMs: nowMs + CODE_MS }
    const { code, untilMs } = this.code
    return { code, links: links(code), until: new Date(untilMs).toISOString() }
  }

  /**
   * Lets a tablet in for a code, which holds once, or the passphrase. @param from - address that asks
   * @returns its token @throws ProblemException for a wrong secret, or one more than may be tried now
   */
  async pair({ secret, name }: PairForm, from: string, nowMs = Date.now()): Promise<string> {
    const wait = this.atDoor.begin(from, nowMs) ?? this.atDoorTogether.begin(EVERYWHERE, nowMs)
    if (wait !== undefined) throw tooManyGuesses(wait)
    if (!(await this.opens(secret, nowMs)))
      throw badField('secret', undefined, 'neither the code that stands on the shop’s computer now nor the passphrase')
    this.atDoor.right(from)
    this.atDoorTogether.right(EVERYWHERE)
    const token = newToken()
    const now = new Date(nowMs).toISOString()
    const tablet = { id: randomUUID(), name, token: tokenHash(token), pairedAt: now, seenAt: now, hands: [] }
    const { tablets } = this.file.state
    if (tablets.length >= TABLETS_MOST)
      throw badField('name', name, `at most ${TABLETS_MOST} tablets: forget one that is gone in the settings`)
    this.file.change({ tablets: [...tablets, tablet] })
    return token
  }

  private async opens(secret: string, nowMs: number): Promise<boolean> {
    const { passphrase } = this.file.state
    if (this.code && nowMs < this.code.untilMs && plainCode(secret) === this.code.code) {
      this.code = undefined
      return true
    }
    return passphrase !== undefined && (await isSecret(secret, passphrase))
  }

  /** Somebody takes a tablet up. @returns the token of the session and when it ends */
  async signIn(
    { tablet }: Asking,
    { person: id, pin }: SignInForm,
    nowMs = Date.now(),
  ): Promise<{ readonly token: string; readonly me: Person; readonly until: Date }> {
    const who = this.known(id)
    const place = `${tablet.id} ${id}`
    const wait = this.atPin.begin(place, nowMs)
    if (wait !== undefined) throw tooManyGuesses(wait)
    if (!(await isSecret(pin, who.pin))) throw badField('pin', undefined, `not the PIN of ${who.name}`)
    this.atPin.right(place)
    const token = newToken()
    const until = new Date(nowMs + SESSION_MS)
    const { tablets, sessions } = this.file.state
    const session = { token: tokenHash(token), tablet: tablet.id, person: id, until: until.toISOString() }
    this.file.change({
      // one hand a tablet; what has ended goes with it
      sessions: [...sessions.filter((s) => s.tablet !== tablet.id && Date.parse(s.until) > nowMs), session],
      tablets: tablets.map((t) =>
        t.id === tablet.id ? { ...t, hands: [...t.hands.filter((h) => h !== who.name), who.name] } : t,
      ),
    })
    return { token, me: person(who), until }
  }

  signOut({ tablet }: Asking): void {
    this.file.change({ sessions: this.file.state.sessions.filter((s) => s.tablet !== tablet.id) })
    this.hangUp()
  }

  /** Somebody may be out: lines that they hold are ended, once the answer to whoever said so has gone. */
  private hangUp(): void {
    const end = (): void => {
      for (const { shown, answer } of this.underWay) if (!this.asking(shown)?.me) answer.destroy()
    }
    setTimeout(end, HANG_UP_AFTER_MS).unref()
  }

  private known(id: string): KeptPerson {
    const found = this.file.state.people.find((p) => p.id === id)
    if (!found) throw notFound('This person')
    return found
  }

  private requireOtherOwner(was: KeptPerson, field: string): void {
    if (was.role === 'owner' && !this.file.state.people.some((p) => p.role === 'owner' && p.id !== was.id))
      throw badField(field, undefined, `${was.name} is the only owner: make somebody else one first`)
  }

  private seen(tablet: KeptTablet, nowMs: number): void {
    if (nowMs - Date.parse(tablet.seenAt) < SEEN_EVERY_MS) return
    const seenAt = new Date(nowMs).toISOString()
    this.file.change({ tablets: this.file.state.tablets.map((t) => (t.id === tablet.id ? { ...t, seenAt } : t)) })
  }
}
