import { closeSync, existsSync, fsyncSync, openSync, readFileSync, renameSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import { Refusal } from '../refusal.js'
import type { Person, Tablet } from '@uvula/contract'
import type { Credential, ServerCredential } from './certificate.js'
import type { Kept } from './secrets.js'

/** Somebody who signs in, with what is kept of the PIN. */
export interface KeptPerson extends Person {
  readonly pin: Kept
}

/** A tablet that was let in, with what is kept of its token. */
export interface KeptTablet extends Tablet {
  readonly token: string
  /** Everybody who has signed in on it: an entry made under one of these names may come from it. */
  readonly hands: readonly string[]
}

/** Somebody at a tablet. */
export interface KeptSession {
  readonly token: string
  readonly tablet: string
  readonly person: string
  /** Time it ends, as ISO. */
  readonly until: string
}

/** Who may come in from the shop's network. It belongs to this computer and not to the shop's file, and is in no backup. */
export interface AccessState {
  readonly open: boolean
  readonly passphrase?: Kept
  readonly people: readonly KeptPerson[]
  readonly tablets: readonly KeptTablet[]
  readonly sessions: readonly KeptSession[]
  readonly authority?: Credential
  readonly server?: ServerCredential
}

const NOBODY: AccessState = { open: false, people: [], tablets: [], sessions: [] }

/** Under which the file is handed about. */
export const ACCESS_FILE = 'access-file'

/** Keeps who may come in, in one file that its owner alone can read; written whole or not at all. */
export class AccessFile {
  private readonly path: string
  private held: AccessState

  /** @throws Refusal when the file is there and is none of ours */
  constructor(folder: string) {
    this.path = join(folder, 'access.json')
    this.held = this.read()
  }

  get state(): AccessState {
    return this.held
  }

  /** Changes what is kept: in the file first. */
  change(part: Partial<AccessState>): void {
    const next = { ...this.held, ...part }
    const beside = `${this.path}.new`
    const file = openSync(beside, 'w', 0o600)
    try {
      writeSync(file, JSON.stringify(next, null, 1))
      fsyncSync(file)
    } finally {
      closeSync(file)
    }
    renameSync(beside, this.path)
    this.held = next
  }

  private read(): AccessState {
    if (!existsSync(this.path)) return NOBODY
    try {
      return { ...NOBODY, ...(JSON.parse(readFileSync(this.path, 'utf8')) as Partial<AccessState>) }
    } catch (e) {
      throw new Refusal(`${this.path} cannot be read: put it aside and open the shop to its network again.`, {
        cause: e,
      })
    }
  }
}
