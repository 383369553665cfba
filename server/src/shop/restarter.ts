import { Injectable } from '@nestjs/common'

/** Lets the shop be changed while the process goes on: the bootstrap sets what happens. */
@Injectable()
export class Restarter {
  private action: (which: 'own' | 'demo') => void = () => undefined

  onRestart(action: (which: 'own' | 'demo') => void): void {
    this.action = action
  }

  /** After the answer has gone out. */
  restartWith(which: 'own' | 'demo'): void {
    setTimeout(() => this.action(which), 50)
  }
}
