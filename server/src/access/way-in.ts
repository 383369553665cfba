import type { IncomingMessage } from 'node:http'
import { parseCookie } from 'cookie'
import type { Asking, Shown } from './access.service.js'

/** By which way a request came in from the shop's network. */
export interface WayIn {
  readonly scheme: 'http' | 'https'
  /** Hosts under which the computer may be called there, each with its port. */
  readonly hosts: readonly string[]
}

const WAY = Symbol('way in')
const ASKING = Symbol('asking')
type Marked = IncomingMessage & { [WAY]?: WayIn; [ASKING]?: Asking }

/** Says of a request that it came in from the network; one without came from this computer itself. */
export const markNetwork = (request: IncomingMessage, way: WayIn): void => void ((request as Marked)[WAY] = way)

export const networkOf = (request: IncomingMessage): WayIn | undefined => (request as Marked)[WAY]

export const markAsking = (request: IncomingMessage, asking: Asking): void =>
  void ((request as Marked)[ASKING] = asking)

/** Who asks over the network, as the guard has found. */
export const askingOf = (request: IncomingMessage): Asking | undefined => (request as Marked)[ASKING]

/** Names of the two cookies: with encryption no other page of the network can set them. */
export const cookieNames = ({ scheme }: WayIn): { readonly tablet: string; readonly hand: string } => {
  const prefix = scheme === 'https' ? '__Host-' : ''
  return { tablet: `${prefix}uvula-tablet`, hand: `${prefix}uvula-hand` }
}

/** What a request from the network shows of itself. */
export function shownBy(request: IncomingMessage, way: WayIn): Shown {
  const cookies = parseCookie(request.headers.cookie ?? '')
  const { tablet, hand } = cookieNames(way)
  return { tablet: cookies[tablet], hand: cookies[hand] }
}
