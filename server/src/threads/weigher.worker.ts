import { confirmedOutcome, soundRecord } from '@uvula/core'
import { answerEach } from './question-thread.js'
import type { Weighing } from './weigher.js'

answerEach<Weighing>({
  confirmed: (visit) => confirmedOutcome(visit) ?? null,
  sound: ({ visits, of }) => soundRecord(visits, of) ?? null,
})
