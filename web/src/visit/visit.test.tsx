/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { PlayedServer } from '../test/browser.js'
import { CAUTIONS, type CautionId } from '@uvula/core'
import { drawOnVisit } from '../test/draw.js'
import { aVisit } from '../test/visit.fixture.js'
import { Stop } from '../parts/Stop.js'
import { Undelivered } from '../parts/Undelivered.js'
import { outbox } from '../store/outbox.js'
import { changeSettings } from '../store/settings.js'
import { PlaceDialog } from './PlaceDialog.js'

const server = new PlayedServer()
const user = userEvent.setup()
beforeEach(async () => {
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
  server.asked.length = 0
  server.answer = (a) => ({
    status: 200,
    body: { ...a.body, id: decodeURIComponent(a.path.split('/').at(-1)!), version: 2 },
  })
  changeSettings({ technician: 'Runa' })
})

describe('a STOP', () => {
  const id = Object.keys(CAUTIONS)[0] as CautionId
  it('says the danger and what to do if it has happened, and its tick is a record with a name', async () => {
    drawOnVisit(aVisit(), (file) => <Stop file={file} id={id} />)
    expect(document.body.textContent).toContain('If it has happened')
    await user.click(screen.getByRole('checkbox', { name: 'seen to' }))
    await waitFor(() => expect(server.writes).toHaveLength(1))
    expect(server.writes[0].body).toMatchObject({ caution: id, by: 'Runa', visitId: 'v' })
    expect(screen.getByRole('checkbox', { name: 'seen to' }).getAttribute('aria-checked')).toBe('true')
    // it stays seen to: a second tap is no second record
    await user.click(screen.getByRole('checkbox', { name: 'seen to' }))
    expect(server.writes).toHaveLength(1)
  })
})

describe('place and weather', () => {
  const open = async (): Promise<void> => {
    drawOnVisit(aVisit(), (file) => <PlaceDialog file={file} pressureKpa={101.3} />)
    await user.click(screen.getByRole('button', { name: /kPa/ }))
  }
  const type = async (label: string, text: string): Promise<void> => {
    const field = screen.getByLabelText(label)
    await user.clear(field)
    if (text) await user.type(field, text)
    await user.tab()
  }
  it('keeps each figure as it is left, and leaves an empty optional one out', async () => {
    await open()
    await type('altitude', '1180')
    await waitFor(() => expect(server.writes.at(-1)?.body).toMatchObject({ altitudeM: 1180, complaint: '' }))
    await type('barometer, if trusted', '87,9')
    await waitFor(() => expect(server.writes.at(-1)?.body.baroKpa).toBe(87.9))
    await type('barometer, if trusted', '')
    await waitFor(() => expect(server.writes.at(-1)?.body).not.toHaveProperty('baroKpa'))
  })
  it('what is out of bounds is said at its field, and not sent', async () => {
    await open()
    await type('outside air', '300')
    expect((await screen.findByRole('alert')).textContent).toBe('outside air must be between -40 and 60 °C')
    expect(server.writes).toEqual([])
  })
})

describe('what the server did not take', () => {
  it('nothing is shown without it; a conflict has both values with who and when', async () => {
    drawOnVisit(aVisit(), () => <Undelivered visitId="v" />)
    expect(screen.queryByRole('alert')).toBeNull()
    server.answer = () => ({
      status: 409,
      body: {
        type: 'uvula:conflict',
        title: '',
        status: 409,
        detail: '',
        current: {
          id: 'x',
          value: 650,
          channel: 'rpm',
          slot: 'idle',
          by: 'Tove',
          at: '2026-01-01T10:41:00',
          version: 4,
        },
      },
    })
    const data = { visitId: 'v', channel: 'rpm', slot: 'idle', round: 0, value: 690, typed: '690' } as const
    await outbox.add({
      noun: 'readings',
      id: 'x',
      visitId: 'v',
      by: 'Runa',
      at: '2026-01-01T10:40:00',
      data,
      baseVersion: 1,
    })
    const alert = await screen.findByRole('alert', { name: 'not taken' })
    expect(alert.textContent).toContain('yours 690 rpm, Runa, 10:40; there 650 rpm, Tove, 10:41')
    await user.click(screen.getByRole('button', { name: 'keep the other: 650 rpm' }))
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull())
  })
})
