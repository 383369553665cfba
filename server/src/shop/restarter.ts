import { Injectable } from '@nestjs/common'

/** Opens another data file, or a backup in the place of one. @param backup - a checked backup that becomes the file */
export type Restart = (which: 'own' | 'demo', backup?: string) => void

/** By then the answer to whoever asked for it is on its way [ms]. */
const ANSWER_GOES_MS = 300

/** Lets the shop be changed while the process goes on: the bootstrap sets what happens. */
@Injectable()
export class Restarter {
  private action: Restart = () => undefined

  onRestart(action: Restart): void {
    this.action = action
  }

  /** After the answer has gone out, on a busy computer too. */
  restartWith(which: 'own' | 'demo', backup?: string): void {
    setTimeout(() => this.action(which, backup), ANSWER_GOES_MS)
  }
}
