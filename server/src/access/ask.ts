import { createInterface } from 'node:readline'
import { Writable } from 'node:stream'
import { plainToInstance } from 'class-transformer'
import { validate } from 'class-validator'
import { OpenDoorForm } from '@uvula/contract'
import { Refusal } from '../refusal.js'
import type { AccessFile } from './access-file.js'
import { AccessService } from './access.service.js'

/** Asks a line of the terminal; what is typed of a secret is not shown. */
function ask(question: string, isSecret: boolean): Promise<string> {
  process.stdout.write(question)
  const silent = new Writable({ write: (_chunk, _encoding, done) => done() })
  const lines = createInterface({ input: process.stdin, output: isSecret ? silent : process.stdout, terminal: true })
  return new Promise((resolve) =>
    lines.question('', (answer) => {
      lines.close()
      if (isSecret) process.stdout.write('\n')
      resolve(answer)
    }),
  )
}

/**
 * Opens the shop to its network from the terminal, or from the values UVULA_PASSPHRASE, UVULA_OWNER and UVULA_PIN: asks what is not
 * known yet. @throws Error with a sentence where nobody can be asked, or what was said is not accepted
 */
export async function askForAccess(file: AccessFile): Promise<void> {
  const access = new AccessService(file)
  if (!access.isReady) {
    const { UVULA_PASSPHRASE: given, UVULA_OWNER: owner, UVULA_PIN: digits } = process.env
    if (!process.stdin.isTTY && (given === undefined || owner === undefined || digits === undefined))
      throw new Refusal(
        'The shop’s network asks for a passphrase and an owner: open it in the settings on this computer, or set UVULA_PASSPHRASE, UVULA_OWNER and UVULA_PIN for the first start.',
      )
    const form = plainToInstance(OpenDoorForm, {
      passphrase: given ?? (await ask('Passphrase that lets tablets in (12 letters or more): ', true)),
      name: owner ?? (await ask('Name of the first owner: ', false)),
      pin: digits ?? (await ask('PIN of the owner (4 to 8 digits): ', true)),
    })
    const wrong = (await validate(form)).flatMap((e) =>
      Object.values(e.constraints ?? {}).map((words) => `${e.property} ${words}`),
    )
    if (wrong.length) throw new Refusal(`Not accepted: ${wrong.join('; ')}.`)
    await access.choosePassphrase(form.passphrase)
    await access.addPerson({ name: form.name, pin: form.pin, role: 'owner' })
  }
  file.change({ open: true })
}
