import { OpenDoorForm, PairForm, PassphraseForm, PersonForm, PinForm, SignInForm } from '@uvula/contract'
import { Choice, describeForm, Flag } from '../records/fields.js'

export class OpenDoorDto extends OpenDoorForm {}
export class PassphraseDto extends PassphraseForm {}
export class PersonDto extends PersonForm {}
export class PinDto extends PinForm {}
export class PairDto extends PairForm {}
export class SignInDto extends SignInForm {}
describeForm(OpenDoorDto, [], ['passphrase', 'name', 'pin'])
describeForm(PassphraseDto, [], ['passphrase'])
describeForm(PersonDto, [], ['name', 'pin', 'role'])
describeForm(PinDto, [], ['pin'])
describeForm(PairDto, [], ['secret', 'name'])
describeForm(SignInDto, [], ['person', 'pin'])

export class RoleDto {
  @Choice(['technician', 'owner']) role: 'technician' | 'owner'
}

export class OpenDto {
  @Flag() open: boolean
}
