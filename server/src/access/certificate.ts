import 'reflect-metadata'
import { randomBytes, webcrypto } from 'node:crypto'
import { isIPv4 } from 'node:net'
import { AsnConvert } from '@peculiar/asn1-schema'
import { GeneralName, GeneralSubtree, GeneralSubtrees, NameConstraints } from '@peculiar/asn1-x509'
import {
  AuthorityKeyIdentifierExtension,
  BasicConstraintsExtension,
  cryptoProvider,
  ExtendedKeyUsage,
  ExtendedKeyUsageExtension,
  Extension,
  KeyUsageFlags,
  KeyUsagesExtension,
  PemConverter,
  SubjectAlternativeNameExtension,
  SubjectKeyIdentifierExtension,
  X509Certificate,
  X509CertificateGenerator,
} from '@peculiar/x509'

/** A certificate and its key, as text that begins with BEGIN. */
export interface Credential {
  readonly certificate: string
  readonly key: string
}

/** The server's own credential with the names it holds for. */
export interface ServerCredential extends Credential {
  readonly names: readonly string[]
  /** Time it ends, as ISO. */
  readonly until: string
}

const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const
const DAY_MS = 86_400_000
/** Browsers refuse a server's certificate that holds longer than 398 days; the shop's own may hold for ten years. */
const SERVER_DAYS = 390
const SHOP_DAYS = 3650
/** Made anew when it would end within these days. */
const RENEW_DAYS = 30
/** Tablets whose clocks are a little behind take it too. */
const EARLY_MS = DAY_MS
/** Id of the extension that says what an authority may speak for (RFC 5280, 4.2.1.10). */
const NAME_CONSTRAINTS = '2.5.29.30'
/** Private and link-local networks and this computer (RFC 1918, 3927). */
const NETWORKS = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16', '169.254.0.0/16', '127.0.0.0/8'] as const

cryptoProvider.set(webcrypto as Crypto)

/** A positive serial number of 15 random bytes and one in front. */
const serial = (): string => `01${randomBytes(15).toString('hex')}`

const newKeys = async (): Promise<CryptoKeyPair> =>
  (await webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])) as CryptoKeyPair

const asText = async (key: CryptoKey): Promise<string> =>
  PemConverter.encode(await webcrypto.subtle.exportKey('pkcs8', key), 'PRIVATE KEY')

const asKey = (text: string): Promise<CryptoKey> =>
  webcrypto.subtle.importKey('pkcs8', PemConverter.decodeFirst(text), ALGORITHM, true, ['sign']) as Promise<CryptoKey>

const holdsFrom = (now: Date, days: number): { readonly notBefore: Date; readonly notAfter: Date } => ({
  notBefore: new Date(now.getTime() - EARLY_MS),
  notAfter: new Date(now.getTime() + days * DAY_MS),
})

/**
 * The shop's own authority, made once and trusted by its tablets. It can speak for nothing but private addresses and names that
 * end in .local: whoever stole its key could pretend to be this shop, and no bank.
 */
export async function makeAuthority(now = new Date()): Promise<Credential> {
  const keys = await newKeys()
  const bases = [{ dNSName: 'local' }, ...NETWORKS.map((iPAddress) => ({ iPAddress }))]
  const allowed = new NameConstraints({
    permittedSubtrees: new GeneralSubtrees(bases.map((b) => new GeneralSubtree({ base: new GeneralName(b) }))),
  })
  const certificate = await X509CertificateGenerator.createSelfSigned({
    serialNumber: serial(),
    name: 'CN=Uvula of this shop',
    ...holdsFrom(now, SHOP_DAYS),
    signingAlgorithm: ALGORITHM,
    keys,
    extensions: [
      new BasicConstraintsExtension(true, 0, true),
      new KeyUsagesExtension(KeyUsageFlags.keyCertSign | KeyUsageFlags.cRLSign, true),
      await SubjectKeyIdentifierExtension.create(keys.publicKey),
      new Extension(NAME_CONSTRAINTS, true, AsnConvert.serialize(allowed)),
    ],
  })
  return { certificate: certificate.toString('pem'), key: await asText(keys.privateKey) }
}

/** A credential of the server for the names under which tablets find it, signed by the shop's authority. */
export async function makeServerCredential(
  authority: Credential,
  names: readonly string[],
  now = new Date(),
): Promise<ServerCredential> {
  const keys = await newKeys()
  const issuer = new X509Certificate(authority.certificate)
  const days = holdsFrom(now, SERVER_DAYS)
  const certificate = await X509CertificateGenerator.create({
    serialNumber: serial(),
    // no name of a host: those stand among the alternative names alone
    subject: 'CN=Uvula on the computer of this shop',
    issuer: issuer.subject,
    ...days,
    signingAlgorithm: ALGORITHM,
    publicKey: keys.publicKey,
    signingKey: await asKey(authority.key),
    extensions: [
      new BasicConstraintsExtension(false, undefined, true),
      new KeyUsagesExtension(KeyUsageFlags.digitalSignature, true),
      new ExtendedKeyUsageExtension([ExtendedKeyUsage.serverAuth]),
      new SubjectAlternativeNameExtension(
        names.map((value) => ({ type: isIPv4(value) ? ('ip' as const) : ('dns' as const), value })),
      ),
      await AuthorityKeyIdentifierExtension.create(issuer),
    ],
  })
  const key = await asText(keys.privateKey)
  return { certificate: certificate.toString('pem'), key, names, until: days.notAfter.toISOString() }
}

/** Whether a server's credential holds for these names for a while yet. */
export const stillHolds = (c: ServerCredential, names: readonly string[], now = new Date()): boolean =>
  names.every((n) => c.names.includes(n)) && Date.parse(c.until) - now.getTime() > RENEW_DAYS * DAY_MS

/** The certificate as tablets take it, and its SHA-256 in pairs of digits. */
export async function toTrust({ certificate }: Credential): Promise<{ readonly der: Buffer; readonly print: string }> {
  const der = Buffer.from(new X509Certificate(certificate).rawData)
  const hash = Buffer.from(await webcrypto.subtle.digest('SHA-256', der)).toString('hex')
  return { der, print: hash.toUpperCase().match(/../g)!.join(' ') }
}
