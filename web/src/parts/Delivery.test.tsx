/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { act, render, screen, waitFor } from '@testing-library/react'
import { PlayedServer, type Played } from '../test/browser.js'
import { outbox } from '../store/outbox.js'
import { Delivery } from './Delivery.js'

const server = new PlayedServer()
const words = (): string => screen.getByTestId('delivery').textContent
const waiting = (): string | undefined => screen.getByTestId('delivery').dataset.waiting

const judge = (): Promise<void> =>
  outbox.add({
    noun: 'findings',
    id: 'f',
    visitId: 'v',
    by: 'R',
    at: '2026-01-01T09:00:00Z',
    data: { visitId: 'v', test: 'look', station: 'plenum', outcome: 'pass' },
    baseVersion: 0,
  })

beforeEach(async () => {
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
})

describe('what is on its way', () => {
  it('is counted at once, and told in words when it takes longer than a moment', async () => {
    jest.useFakeTimers({ doNotFake: ['setImmediate', 'queueMicrotask', 'nextTick'] })
    let take: (p: Played) => void = () => undefined
    server.answer = () => new Promise<Played>((resolve) => (take = resolve))
    render(<Delivery />)
    expect(words()).toBe('all kept')
    await act(async () => void judge())
    expect([words(), waiting()]).toEqual(['all kept', '1'])
    act(() => void jest.advanceTimersByTime(450))
    expect([words(), waiting()]).toEqual(['1 on the way', '1'])
    jest.useRealTimers()
    await waitFor(() => expect(server.writes).toHaveLength(1))
    take({ status: 200, body: { id: 'f', version: 1 } })
    await waitFor(() => expect([words(), waiting()]).toEqual(['all kept', '0']))
  })
  it('is told at once when the server is away', async () => {
    server.answer = () => 'away'
    render(<Delivery />)
    await act(() => judge())
    await waitFor(() => expect(words()).toBe('server away, 1 kept here'))
  })
})
