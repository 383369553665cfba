/** What a hand may do: a technician everything of a visit; an owner also the shop's figures, its backups and who comes in. */
export type Role = 'technician' | 'owner'

/** One who signs in. */
export interface Person {
  readonly id: string
  readonly name: string
  readonly role: Role
}

/** What the asking page may know of its own standing. */
export interface Standing {
  /** It was asked on the shop's computer itself, where nobody signs in. */
  readonly here: boolean
  /** This tablet was let in once. */
  readonly paired: boolean
  /** Who is signed in. */
  readonly me?: Person
  /** Who may be chosen; told to a paired tablet only. */
  readonly people: readonly Person[]
}

/** A tablet that was let in. */
export interface Tablet {
  readonly id: string
  readonly name: string
  readonly pairedAt: string
  readonly seenAt: string
}

/** The way in from the shop's network, as its owner sees it. */
export interface Door {
  readonly open: boolean
  /** A passphrase was chosen and somebody can sign in. */
  readonly ready: boolean
  /** Where tablets find the shop, the likeliest first. */
  readonly addresses: readonly string[]
  /** Where a tablet gets the certificate, as plain pages; none where the network is served without encryption. */
  readonly trust: readonly string[]
  /** SHA-256 of the shop's certificate, in pairs of digits. */
  readonly fingerprint?: string
  /** The network is served without encryption. */
  readonly plain: boolean
  readonly people: readonly Person[]
  readonly tablets: readonly Tablet[]
  /** Why it could not be opened. */
  readonly problem?: string
}

/** Lets one tablet in, once and for a short time. */
export interface PairingCode {
  readonly code: string
  /** Addresses that carry the code, the likeliest first. */
  readonly links: readonly string[]
  readonly until: string
}
