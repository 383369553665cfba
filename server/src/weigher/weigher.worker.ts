import { parentPort } from 'node:worker_threads'
import { confirmedOutcome, soundRecord } from '@uvula/core'
import type { Answers, Asked, Question, Told } from './protocol.js'

function answer(q: Question): Answers[Question['kind']] {
  switch (q.kind) {
    case 'confirmed':
      return confirmedOutcome(q.visit) ?? null
    case 'sound':
      return soundRecord(q.visits, q.of) ?? null
  }
}

parentPort!.on('message', ({ id, question }: Asked) => {
  let told: Told
  try {
    told = { id, answer: answer(question) }
  } catch (e) {
    told = { id, failed: e instanceof Error ? e.message : String(e) }
  }
  parentPort!.postMessage(told)
})
