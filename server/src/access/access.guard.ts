import { Injectable, SetMetadata, type CanActivate, type CustomDecorator, type ExecutionContext } from '@nestjs/common'
import { Reflector } from '@nestjs/core'
import type { Request, Response } from 'express'
import { forbidden, signedOut } from '../records/problem.js'
import { AccessService, type Asking } from './access.service.js'
import { markAsking, networkOf, shownBy } from './way-in.js'

/** Who may ask over the network: anybody, a tablet that was let in, somebody signed in on one, an owner. */
type Need = 'anybody' | 'tablet' | 'hand' | 'owner'

const NEED = 'need'
/** Says who may ask; without it somebody has to be signed in. */
export const Needs = (need: Need): CustomDecorator => SetMetadata(NEED, need)

/** Lets through what comes from this computer itself, and of the network those who may. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly access: AccessService,
  ) {}

  /** @throws ProblemException for those who may not */
  canActivate(context: ExecutionContext): boolean {
    const request = context.switchToHttp().getRequest<Request>()
    const way = networkOf(request)
    if (!way) return true
    const need = this.reflector.getAllAndOverride<Need | undefined>(NEED, [context.getHandler(), context.getClass()])
    const shown = shownBy(request, way)
    const asking = this.access.asking(shown)
    if (asking) markAsking(request, asking)
    if (need === 'anybody') return true
    if (!asking) throw signedOut()
    if (need === 'tablet') return true
    if (!asking.me) throw signedOut()
    if (need === 'owner' && asking.me.role !== 'owner')
      throw forbidden('This is for an owner of the shop: ask one, or do it on the shop’s computer.')
    this.requireOwnName(request, asking)
    this.access.holdOpen(shown, context.switchToHttp().getResponse<Response>())
    return true
  }

  /** An entry may wait on a tablet while hands change: its name has to be of somebody who has signed in there. */
  private requireOwnName(request: Request, asking: Asking): void {
    const body = request.body as { by?: unknown } | undefined
    const by = body?.by ?? request.query.by
    if (by !== undefined && !(typeof by === 'string' && this.access.isHand(asking.tablet, by)))
      throw forbidden(
        `${JSON.stringify(by).slice(0, 80)} has not signed in on this tablet: sign in under that name, then send it again.`,
      )
  }
}
