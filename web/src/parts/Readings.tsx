import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import {
  bandOf,
  channelProblem,
  diesIn,
  diesTick,
  formatIn,
  isIdleRead,
  live,
  maybeChannel,
  narrowestBand,
  parseTyped,
  remediesOf,
  roundToFill,
  SLOTS,
  standing,
  vehicleAtPlace,
  type Band,
  type ChannelId,
  type Dies,
  type ReadingRecord,
  type Slot,
  type VisitFile,
} from '@uvula/core'
import { Link } from 'react-router'
import { Tick } from '../kit/Tick.js'
import { draftOf, keepDraft } from '../store/drafts.js'
import { useUnit } from '../store/settings.js'
import { ownFields, useWriter } from '../store/visit.js'
import { useSoundRecords } from '../workers/heart.js'
import { Scale } from './Scale.js'
import { Stop, stopSeen } from './Stop.js'
import { StuckHere } from './Undelivered.js'

/** What is typed of a pull. */
const PULL_HOW =
  'Plate wide open through the middle of the speeds, two seconds or more: all figures of one moment, its speed among them.'

/** Points that are driven, not stood: what the road asks for comes before their figures. */
export const DRIVEN: readonly Slot[] = ['cruise', 'pull']

/** Readings of one point, typed on their scales with one hand: Enter goes on, arrows move, a table may be pasted. */
export function Readings({
  file,
  slot,
  round,
  channels,
}: {
  file: VisitFile
  slot: Slot
  round: number
  channels: readonly ChannelId[]
}) {
  const list = useRef<HTMLOListElement>(null)
  const { write, remove } = useWriter(file)
  const mine = live(file.readings).filter((r) => r.round === round && r.slot === slot)
  const before = round > 0 ? live(file.readings).filter((r) => r.round === 0 && r.slot === slot) : []
  const value = (id: ChannelId): number | undefined => mine.find((r) => r.channel === id)?.value
  const kind = SLOTS[slot].kind as Parameters<typeof bandOf>[1]['kind']
  const vehicle = vehicleAtPlace(file)
  const gauge = value('gauge_vacuum_kpa')
  const ambient = bandOf('baro_kpa', { vehicle, kind, ambientC: 20 })
  const place = {
    vehicle,
    kind,
    rpm: value('rpm') ?? SLOTS[slot].rpm,
    manifoldKpa:
      value('map_kpa') ?? (gauge !== undefined && ambient ? (ambient.low + ambient.high) / 2 - gauge : undefined),
    ambientC: file.visit.ambientC,
    commandedLambda: value('lambda_cmd'),
  }
  const sound = useSoundRecords(file)
  // something was done since these were read: they are the "before", and only a correction changes one
  const open = roundToFill(file)
  const closed = round < open
  const [correcting, setCorrecting] = useState(false)
  const save = (channel: ChannelId, canonical: number, typed: string, seen: number): void =>
    write(
      'readings',
      `${file.visit.id}:${round}:${slot}:${channel}`,
      {
        visitId: file.visit.id,
        round,
        slot,
        channel,
        value: canonical,
        typed,
        ...(closed ? { corrected: true } : {}),
      },
      { seen },
    )
  const move = (from: HTMLElement, by: number): void => {
    const inputs = [...list.current!.querySelectorAll('input')]
    inputs[inputs.indexOf(from as HTMLInputElement) + by]?.focus()
  }
  if (DRIVEN.includes(slot) && !mine.length && !closed && !stopSeen(file, 'road-test'))
    return (
      <>
        <Stop file={file} id="road-test" />
        <p className="mt-8 text-small text-soft">its figures stand here once this is seen to</p>
      </>
    )
  const dies = slot === 'idle' && diesIn(file, round) !== undefined
  return (
    <>
      {closed && (
        <div className="mb-8 flex flex-wrap gap-8 border-l-6 border-l-ink pl-10" role="note">
          <p className="w-full text-small">
            Read before {remediesOf(file).find((r) => r.afterRound >= round)?.words}.{' '}
            {correcting ? 'What you type now puts an old figure right; the old one stays in the history.' : ''}
          </p>
          {correcting ? (
            <button type="button" className="act" onClick={() => setCorrecting(false)}>
              leave them
            </button>
          ) : (
            <>
              <Link className="act" to={`/visit/${encodeURIComponent(file.visit.id)}/prove`}>
                measured again
              </Link>
              <button type="button" className="act" onClick={() => setCorrecting(true)}>
                correct one
              </button>
            </>
          )}
        </div>
      )}
      {slot === 'pull' && !closed && <p className="mb-8 text-small">{PULL_HOW}</p>}
      <ol ref={list}>
        {(dies ? [] : channels).map((channel) => {
          const reading = mine.find((r) => r.channel === channel)
          return (
            <Reading
              key={`${slot}${round}${channel}`}
              id={`${file.visit.id}:${round}:${slot}:${channel}`}
              channel={channel}
              reading={reading}
              before={before.find((r) => r.channel === channel)?.value}
              band={narrowestBand(channel, place, sound)}
              locked={closed && !correcting}
              onSave={(x, typed, seen) => save(channel, x, typed, seen)}
              onClear={() => {
                if (!reading) return
                if (closed) write('readings', reading.id, { ...ownFields(reading), corrected: true, deleted: true })
                else remove('readings', reading.id)
              }}
              onMove={move}
            />
          )
        })}
      </ol>
      {slot === 'idle' && !closed && !isIdleRead(file, round) && <NoIdle file={file} round={round} />}
    </>
  )
}

/** An engine that dies when the pedal is let go has no idle to be read, and one that dies anyway no speed: that is a reading too. */
function NoIdle({ file, round }: { file: VisitFile; round: number }) {
  const { write, remove } = useWriter(file)
  const dies = diesIn(file, round)
  const tick = (how: Dies, is: boolean): void => {
    const caution = diesTick(how, round)
    const id = `${file.visit.id}:${caution}`
    if (is) return write('ticks', id, { visitId: file.visit.id, caution })
    remove('ticks', id)
    // one that idles runs
    if (how === 'no-idle' && dies === 'no-run') tick('no-run', false)
  }
  return (
    <div className="mt-8 flex flex-wrap gap-8">
      <Tick checked={dies !== undefined} onChange={(is) => tick('no-idle', is)}>
        it does not hold an idle
      </Tick>
      {dies && (
        <Tick checked={dies === 'no-run'} onChange={(is) => tick('no-run', is)}>
          nor a held speed
        </Tick>
      )}
      {dies && (
        <p className="w-full text-small">
          {dies === 'no-idle'
            ? 'Then a held speed stands for it: 2500 rpm, warm, the same each time. Extraction on; briefly where the lamp flashes, since the catalyst overheats.'
            : 'Then it is tested at rest. Few tries to start it: what does not burn goes into the catalyst.'}
        </p>
      )}
    </div>
  )
}

interface RowProps {
  /** Of the reading that it keeps. */
  readonly id: string
  readonly channel: ChannelId
  readonly reading?: ReadingRecord
  readonly before?: number
  readonly band?: Band
  /** Shown only: what was done since has closed its round. */
  readonly locked: boolean
  /** @param seen - version that stood here when typing began */
  readonly onSave: (canonical: number, typed: string, seen: number) => void
  readonly onClear: () => void
  readonly onMove: (from: HTMLElement, by: number) => void
}

const WORDS = { inside: '', low: 'low', high: 'high', unknown: '' } as const

function Reading({ id, channel, reading, before, band, locked, onSave, onClear, onMove }: RowProps) {
  const info = maybeChannel(channel)!
  const unit = useUnit(info.quantity)
  const [draft, showDraft] = useState<string>()
  // the same text without waiting for a render: leaving the field right after Enter must not keep it twice
  const held = useRef<string>(undefined)
  const seen = useRef(0)
  const setDraft = (text: string | undefined): void => {
    if (held.current === undefined) seen.current = reading?.version ?? 0
    held.current = text
    showDraft(text)
    keepDraft(id, text === undefined ? undefined : { text, seen: seen.current })
  }
  const [problem, setProblem] = useState<string>()
  const shown = draft ?? (reading ? formatIn(reading.value, unit) : '')

  const commit = (text: string): boolean => {
    if (text.trim() === '') {
      if (reading) onClear()
      setDraft(undefined)
      setProblem(undefined)
      return true
    }
    const typed = parseTyped(text, info.quantity, unit)
    const refusal = typed.ok ? channelProblem(channel, typed.value) : typed.message
    if (!typed.ok || refusal) {
      // what was typed stays where it is until it is right
      setProblem(refusal)
      return false
    }
    if (typed.value !== reading?.value) onSave(typed.value, text.trim(), seen.current)
    setDraft(undefined)
    setProblem(undefined)
    return true
  }

  // typed before the page was loaded anew, and never left: it is kept as if it had been left now
  useEffect(() => {
    const draft = locked ? undefined : draftOf(id)
    if (!draft) return
    setDraft(draft.text)
    seen.current = draft.seen
    commit(draft.text)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, for what the tab remembers
  }, [])

  const onKey = (e: KeyboardEvent<HTMLInputElement>): void => {
    if (e.key === 'Enter' || e.key === 'ArrowDown') {
      e.preventDefault()
      if (held.current === undefined || commit(held.current)) onMove(e.currentTarget, 1)
    } else if (e.key === 'ArrowUp') {
      e.preventDefault()
      if (held.current === undefined || commit(held.current)) onMove(e.currentTarget, -1)
    } else if (e.key === 'Escape') {
      setDraft(undefined)
      setProblem(undefined)
    }
  }

  const wrong = problem ?? reading?.refused
  const word = reading && !wrong ? WORDS[standing(reading.value, band)] : ''
  const range =
    band && (channel === 'maf_gs' || channel === 'map_kpa' || word)
      ? `${formatIn(band.low, unit)} to ${formatIn(band.high, unit)}`
      : ''
  const note = [[word, range].filter(Boolean).join(': '), range && band?.bySound ? band.from : '']
    .filter(Boolean)
    .join(', ')
  return (
    <li
      className={`border-b border-b-line gap-x-8 grid grid-cols-[116px_90px_34px_minmax(60px,1fr)] items-center min-h-tap phone:grid-cols-[118px_96px_34px_minmax(60px,1fr)] ${wrong ? 'wrong' : ''}`}
      data-channel={channel}
    >
      <label className="text-soft leading-tight text-small" htmlFor={`in-${channel}`}>
        {info.label}
        {note && <span className="block text-ink font-semibold">{note}</span>}
      </label>
      <input
        id={`in-${channel}`}
        className="fig text-reading leading-46 h-tap w-full text-right focus:outline-none focus:bg-face-2 focus:shadow-[inset_0_-4px_0_var(--color-ink)]"
        inputMode="decimal"
        autoComplete="off"
        readOnly={locked}
        value={shown}
        placeholder="·"
        aria-invalid={wrong !== undefined}
        aria-describedby={wrong ? `bad-${channel}` : undefined}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={() => held.current !== undefined && commit(held.current)}
        onKeyDown={onKey}
        onPaste={(e) => {
          const cells = e.clipboardData
            .getData('text')
            .trim()
            .split(/[\t\r\n]+/)
          if (cells.length < 2 || locked) return
          e.preventDefault()
          pasteDown(e.currentTarget, cells)
        }}
      />
      <span className="text-small">{unit.symbol}</span>
      {band ? (
        <Scale
          band={band}
          value={reading?.value}
          before={before}
          label={`${info.label} band ${formatIn(band.low, unit)} to ${formatIn(band.high, unit)} ${unit.symbol}`}
        />
      ) : (
        <span />
      )}
      {wrong && (
        <p id={`bad-${channel}`} className="px-0 pt-0 pb-8 col-span-full text-small" role="alert">
          {wrong}
        </p>
      )}
      <div className="col-span-full">
        <StuckHere noun="readings" id={id} />
      </div>
    </li>
  )
}

/** Puts pasted cells into this input and those below, as if they had been typed. */
function pasteDown(start: HTMLInputElement, cells: readonly string[]): void {
  const inputs = [...start.closest('ol')!.querySelectorAll('input')]
  const setter = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!
  cells.forEach((text, i) => {
    const el = inputs[inputs.indexOf(start) + i]
    if (!el) return
    el.focus()
    setter.call(el, text)
    el.dispatchEvent(new Event('input', { bubbles: true }))
    // left, it is kept like any figure that was typed
    el.blur()
  })
}
