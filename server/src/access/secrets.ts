import { createHash, randomBytes, randomInt, scrypt, timingSafeEqual } from 'node:crypto'

/** A secret as it is kept: it can be checked and not read. */
export interface Kept {
  readonly salt: string
  readonly hash: string
}

/** Work of one check: about 60 ms and 32 MB on a shop's computer (scrypt, RFC 7914). */
const COST = { N: 1 << 15, r: 8, p: 1, maxmem: 64 << 20 } as const
const BYTES = 32
/** Signs of a code that is read off one screen and typed at another: no two look alike. */
const SIGNS = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789'
const CODE_LENGTH = 10

const derive = (secret: string, salt: string): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    scrypt(secret.normalize('NFKC'), salt, BYTES, COST, (e, key) => (e ? reject(e) : resolve(key))),
  )

export async function keepSecret(secret: string): Promise<Kept> {
  const salt = randomBytes(16).toString('hex')
  return { salt, hash: (await derive(secret, salt)).toString('hex') }
}

export async function isSecret(secret: string, { salt, hash }: Kept): Promise<boolean> {
  return timingSafeEqual(await derive(secret, salt), Buffer.from(hash, 'hex'))
}

/** What a tablet or a signed-in hand shows with each request: 256 random bits. */
export const newToken = (): string => randomBytes(32).toString('base64url')

/** A token as it is kept. It holds as many random bits as its hash: no slow hash is asked for. */
export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex')

/** A code for one pairing: ten of 31 signs, 49 bits. */
export const newCode = (): string => Array.from({ length: CODE_LENGTH }, () => SIGNS[randomInt(SIGNS.length)]).join('')

/** A code as it was meant: small letters, spaces and dashes make no difference. */
export const plainCode = (typed: string): string => typed.toUpperCase().replace(/[\s-]/g, '')
