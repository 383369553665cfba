/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import '../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { Speed, WaveResult } from '@uvula/core'
import { draw } from '../test/draw.js'
import { may, tap } from '../test/hand.js'
import { aVisit } from '../test/visit.fixture.js'
import type { Reader } from '../workers/heart.js'

const unasked = (): Promise<never> => Promise.reject(new Error('not asked'))
let heard: Speed
let ofFile: WaveResult<Speed>
const listen =
  jest.fn<(seconds: number, tell: (left: number) => void) => Promise<{ signal: Float64Array; sampleHz: number }>>()
jest.mock('../workers/heart.js', () => ({
  reader: (): Reader => ({
    read: unasked,
    balance: unasked,
    speed: () => Promise.resolve(heard),
    speedOfFile: () => Promise.resolve(ofFile),
    stop: () => undefined,
  }),
}))
jest.mock('./listen.js', () => ({ listen: (s: number, tell: (left: number) => void) => listen(s, tell) }))
const { SpeedByEar } = jest.requireActual<typeof import('./SpeedByEar.js')>('./SpeedByEar.js')

const sure = (median: number): Speed => ({
  rpm: { median, low: median - 12, high: median + 12 },
  track: [],
  margin: 5,
  warnings: [],
})
const unsure: Speed = {
  rpm: null,
  track: [],
  margin: 0,
  warnings: [{ code: 'octave-not-sure', message: 'It could be half of it.' }],
}
const told: (number | undefined)[] = []
const draws = (): void => void draw(<SpeedByEar vehicle={aVisit().vehicle.spec} onSpeed={(rpm) => told.push(rpm)} />)

beforeEach(() => {
  told.length = 0
  listen.mockReset()
  listen.mockImplementation((seconds, tell) => {
    tell(seconds)
    return Promise.resolve({ signal: new Float64Array(10), sampleHz: 8000 })
  })
})

describe('the speed by ear', () => {
  it('what was heard is said with its interval and handed on', async () => {
    heard = sure(1503.4)
    draws()
    expect(screen.getByText(/extraction on; the tablet a metre from the pipe/)).toBeTruthy()
    tap('listen at the tailpipe')
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('1503 rpm heard, 1491 to 1515.'))
    expect(told).toEqual([1503])
    expect(may('listen at the tailpipe')).toBe(true)
  })
  it('what is not sure takes back what was heard before', async () => {
    heard = unsure
    draws()
    tap('listen at the tailpipe')
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('Not sure: It could be half of it.'))
    expect(told).toEqual([undefined])
  })
  it('a microphone that may not be used says what else there is', async () => {
    listen.mockRejectedValue(new Error('The microphone may not be used: allow it for this page, or take a WAV file.'))
    draws()
    tap('listen at the tailpipe')
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/or take a WAV file/))
    expect(told).toEqual([])
  })
  it('a file is heard too; one that cannot be read is named', async () => {
    const give = (name: string): void =>
      void fireEvent.change(screen.getByLabelText('sound or ripple file'), {
        target: { files: [Object.assign(new File(['x'], name), { arrayBuffer: async () => new ArrayBuffer(1) })] },
      })
    draws()
    ofFile = { ok: false, error: { code: 'not-a-signal', message: 'No row of numbers.' } }
    give('notes.txt')
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('notes.txt: No row of numbers.'))
    ofFile = { ok: true, value: sure(880) }
    give('pipe.wav')
    await waitFor(() => expect(screen.getByRole('status').textContent).toMatch(/^880 rpm heard/))
    expect(screen.queryByRole('alert')).toBeNull()
    expect(told).toEqual([880])
  })
})
