/** @jest-environment jsdom */
import { describe, expect, it } from '@jest/globals'
import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { PlaceForm } from '@uvula/contract'
import { useState } from 'react'
import '../test/browser.js'
import { draw } from '../test/draw.js'
import { Choose } from './Choose.js'
import { Close, Dialog } from './Dialog.js'
import { Field } from './Field.js'
import { Marks } from './Marks.js'
import { Pick } from './Pick.js'
import { OUTCOMES, Rings } from './Rings.js'
import { Tick } from './Tick.js'
import { asNumber, useChecked } from './useChecked.js'
import { Views } from './Views.js'
import { Working } from './Working.js'

const user = userEvent.setup()
const THREE = [
  { value: 'a', label: 'one' },
  { value: 'b', label: 'two' },
  { value: 'c', label: 'three' },
] as const

describe('one of a few', () => {
  it('arrows move, and a tap on what is chosen leaves it chosen', async () => {
    const chosen: string[] = []
    draw(<Choose label="which" look="line" value="a" choices={THREE} onChange={(x) => chosen.push(x)} />)
    await user.click(screen.getByRole('radio', { name: 'one' }))
    expect(chosen).toEqual([])
    await user.keyboard('{ArrowRight}')
    expect(document.activeElement).toBe(screen.getByRole('radio', { name: 'two' }))
    await user.click(screen.getByRole('radio', { name: 'three' }))
    expect(chosen).toEqual(['c'])
  })
  it('any of a few: each tap names the one it was on', async () => {
    const tapped: string[] = []
    draw(<Marks label="signs" values={['b']} choices={THREE} onToggle={(x) => tapped.push(x)} />)
    await user.click(screen.getByRole('button', { name: 'one' }))
    await user.click(screen.getByRole('button', { name: 'two' }))
    expect(tapped).toEqual(['a', 'b'])
    expect(screen.getByRole('button', { name: 'two' }).getAttribute('aria-pressed')).toBe('true')
  })
  it('of a list: opens by key, shows whole words, picks', async () => {
    const chosen: string[] = []
    draw(<Pick label="what" value="a" options={THREE} onChange={(x) => chosen.push(x)} />)
    screen.getByRole('combobox', { name: 'what' }).focus()
    await user.keyboard('{Enter}')
    await user.click(screen.getByRole('option', { name: 'three' }))
    expect(chosen).toEqual(['c'])
  })
})

describe('a look', () => {
  it('one tap judges, another judges anew, a tap on what is chosen takes it back', async () => {
    const said: (string | undefined)[] = []
    draw(<Rings question="Dust" value="pass" onJudge={(o) => said.push(o)} />)
    await user.click(screen.getByRole('radio', { name: 'Dust: failed' }))
    await user.click(screen.getByRole('radio', { name: 'Dust: sound' }))
    expect(said).toEqual(['fail', undefined])
    expect(screen.getAllByRole('radio')).toHaveLength(OUTCOMES.length)
  })
})

describe('ticks, views, sheets', () => {
  it('a tick is a box with its words, by finger or space bar', async () => {
    const ticked: boolean[] = []
    draw(
      <Tick checked={false} label="coolant: seen to" onChange={(x) => ticked.push(x)}>
        seen to
      </Tick>,
    )
    const box = screen.getByRole('checkbox', { name: 'coolant: seen to' })
    await user.click(box)
    box.focus()
    await user.keyboard(' ')
    expect(ticked).toEqual([true, true])
  })
  it('views: arrows go from name to name, one body at a time', async () => {
    function Two() {
      const [view, setView] = useState<'a' | 'b'>('a')
      return (
        <Views
          label="view"
          value={view}
          onChange={setView}
          views={[
            { value: 'a', label: 'first', body: 'this' },
            { value: 'b', label: 'second', body: 'that' },
          ]}
          beside={<p>at work</p>}
        />
      )
    }
    draw(<Two />)
    await user.click(screen.getByRole('tab', { name: 'first' }))
    await user.keyboard('{ArrowRight}')
    expect(screen.getByRole('tabpanel').textContent).toBe('that')
    // a list of names holds names only, whatever stands beside it
    expect(screen.getByRole('tablist').contains(screen.getByText('at work'))).toBe(false)
  })
  it('a sheet keeps the focus in it, and Escape closes it', async () => {
    draw(
      <Dialog title="Keys" trigger={<button type="button">open</button>}>
        <Close />
      </Dialog>,
    )
    await user.click(screen.getByRole('button', { name: 'open' }))
    const sheet = screen.getByRole('dialog', { name: 'Keys' })
    expect(sheet.contains(document.activeElement)).toBe(true)
    await user.keyboard('{Tab}{Tab}')
    expect(sheet.contains(document.activeElement)).toBe(true)
    await user.keyboard('{Escape}')
    expect(screen.queryByRole('dialog')).toBeNull()
  })
  it('progress says its share when that is known', () => {
    draw(<Working label="reading" share={0.424} />)
    expect(screen.getByRole('progressbar', { name: 'reading' }).getAttribute('aria-valuenow')).toBe('42')
  })
})

describe('a checked form', () => {
  function Place() {
    const form = useChecked(PlaceForm, { altitudeM: 1180, ambientC: 9 })
    const { errors } = form.formState
    return (
      <form>
        <Field
          label="altitude"
          unit="m"
          error={errors.altitudeM?.message}
          {...form.register('altitudeM', { setValueAs: asNumber('altitude') })}
        />
        <Field
          label="barometer"
          error={errors.baroKpa?.message}
          {...form.register('baroKpa', { setValueAs: asNumber('pressure') })}
        />
      </form>
    )
  }
  it('says at the field, in the server’s own words, what is accepted', async () => {
    draw(<Place />)
    const altitude = screen.getByLabelText('altitude')
    await user.clear(altitude)
    await user.type(altitude, '9000')
    await user.tab()
    const wrong = await screen.findByRole('alert')
    expect(wrong.textContent).toBe('altitude must be between -450 and 5500 m')
    expect(altitude.getAttribute('aria-describedby')).toBe(wrong.id)
    await user.clear(altitude)
    await user.type(altitude, '2.000,5')
    await user.tab()
  })
  it('an optional field may be empty; words are no number', async () => {
    draw(<Place />)
    const baro = screen.getByLabelText('barometer')
    await user.type(baro, 'high')
    await user.tab()
    expect((await screen.findByRole('alert')).textContent).toMatch(/between 45 and 110 kPa/)
    await user.clear(baro)
    await user.tab()
    expect(within(document.body).queryByText(/between 45/)).toBeNull()
  })
  it.each([
    ['18,5', 18.5],
    ['', undefined],
    [undefined, undefined],
    [7, 7],
  ])('%j is read as %j', (typed, value) => expect(asNumber('number')(typed)).toBe(value))
  it('words are not a number', () => expect(asNumber('number')('x')).toBeNaN())
})
