import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put, Req, Res } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { Door, PairingCode, Standing } from '@uvula/contract'
import type { CookieOptions, Request, Response } from 'express'
import { refused } from '../records/problem.js'
import { OpenDoorDto, OpenDto, PairDto, PassphraseDto, PersonDto, PinDto, RoleDto, SignInDto } from './access.dto.js'
import { Needs } from './access.guard.js'
import { AccessService } from './access.service.js'
import { NetworkDoor } from './network-door.js'
import { askingOf, cookieNames, networkOf, type WayIn } from './way-in.js'

/** A tablet that was let in stays so for a bit over a year without being seen; browsers hold no cookie longer. */
const TABLET_MS = 400 * 86_400_000

const cookie = (way: WayIn, maxAge: number): CookieOptions => ({
  httpOnly: true,
  sameSite: 'strict',
  secure: way.scheme === 'https',
  path: '/',
  maxAge,
})

/** Who may come in from the shop's network: tablets let themselves in and hands sign in; owners say who. */
@ApiTags('access')
@Controller('api/access')
export class AccessController {
  constructor(
    private readonly access: AccessService,
    private readonly door: NetworkDoor,
  ) {}

  /** What the page that asks may know of its own standing. */
  @Get()
  @Needs('anybody')
  standing(@Req() request: Request): Standing {
    if (!networkOf(request)) return { here: true, paired: true, people: this.access.people }
    return this.access.standing(askingOf(request))
  }

  /** Lets this tablet in for a code or the passphrase. */
  @Post('pair')
  @Needs('anybody')
  @HttpCode(200)
  async pair(
    @Body() dto: PairDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Standing> {
    const way = this.fromNetwork(request)
    const token = await this.access.pair(dto, request.socket.remoteAddress ?? '')
    response.cookie(cookieNames(way).tablet, token, cookie(way, TABLET_MS))
    return this.access.standing(this.access.asking({ tablet: token }))
  }

  @Post('sign-in')
  @Needs('tablet')
  @HttpCode(200)
  async signIn(
    @Body() dto: SignInDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Standing> {
    const way = this.fromNetwork(request)
    const asking = askingOf(request)!
    const { token, me, until } = await this.access.signIn(asking, dto)
    response.cookie(cookieNames(way).hand, token, cookie(way, until.getTime() - Date.now()))
    return { here: false, paired: true, me, people: this.access.people }
  }

  @Post('sign-out')
  @Needs('tablet')
  @HttpCode(200)
  signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Standing {
    const way = this.fromNetwork(request)
    this.access.signOut(askingOf(request)!)
    response.clearCookie(cookieNames(way).hand, cookie(way, 0))
    return { here: false, paired: true, people: this.access.people }
  }

  @Get('door')
  @Needs('owner')
  asked(): Door {
    return this.door.door()
  }

  /** Opens the shop to its network the first time. */
  @Post('door/first')
  @Needs('owner')
  @HttpCode(200)
  async first(@Body() { passphrase, name, pin }: OpenDoorDto): Promise<Door> {
    if (this.access.isReady) throw refused('access', 'There is a passphrase and an owner already: change those.')
    await this.access.choosePassphrase(passphrase)
    if (!this.access.isReady) await this.access.addPerson({ name, pin, role: 'owner' })
    await this.door.open()
    return this.door.door()
  }

  /** Opens or shuts the way in. */
  @Put('door')
  @Needs('owner')
  async swing(@Body() { open }: OpenDto): Promise<Door> {
    if (open && !this.access.isReady)
      throw refused('access', 'Choose a passphrase and an owner first: nobody could come in.')
    if (open) await this.door.open()
    else this.door.shut()
    return this.door.door()
  }

  @Put('passphrase')
  @Needs('owner')
  async passphrase(@Body() { passphrase }: PassphraseDto): Promise<Door> {
    await this.access.choosePassphrase(passphrase)
    return this.door.door()
  }

  @Post('people')
  @Needs('owner')
  @HttpCode(200)
  async addPerson(@Body() dto: PersonDto): Promise<Door> {
    await this.access.addPerson(dto)
    return this.door.door()
  }

  @Put('people/:id/pin')
  @Needs('owner')
  async choosePin(@Param('id') id: string, @Body() { pin }: PinDto): Promise<Door> {
    await this.access.choosePin(id, pin)
    return this.door.door()
  }

  @Put('people/:id/role')
  @Needs('owner')
  chooseRole(@Param('id') id: string, @Body() { role }: RoleDto): Door {
    this.access.chooseRole(id, role)
    return this.door.door()
  }

  @Delete('people/:id')
  @Needs('owner')
  removePerson(@Param('id') id: string): Door {
    this.access.removePerson(id)
    return this.door.door()
  }

  @Delete('tablets/:id')
  @Needs('owner')
  forgetTablet(@Param('id') id: string): Door {
    this.access.forgetTablet(id)
    return this.door.door()
  }

  /** A code that lets one tablet in within ten minutes. */
  @Post('code')
  @Needs('owner')
  @HttpCode(200)
  code(): PairingCode {
    if (!this.door.door().open) throw refused('access', 'The shop is not open to its network.')
    return this.access.newPairing((code) => this.door.addresses(`/pair#${code}`))
  }

  /** On the shop's computer nobody signs in. */
  private fromNetwork(request: Request): WayIn {
    const way = networkOf(request)
    if (!way) throw refused('access', 'Nobody signs in on the shop’s computer.')
    return way
  }
}
