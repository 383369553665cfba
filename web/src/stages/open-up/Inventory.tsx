import { useState } from 'react'
import {
  detailWords,
  ITEM_KINDS,
  itemPresetsAt,
  isSeal,
  kindOfItem,
  LOOSE_UNTIL,
  mayTakeOff,
  MOST_PIECES,
  piecesOf,
  withAll,
  withPieces,
  type ItemKind,
  type ItemMore,
  type ItemPreset,
  type ItemRecord,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { SealChoice } from '../close-up/SealChoice.js'
import { TorqueField } from '../close-up/TorqueField.js'

/** What comes off at a joint: the usual by one tap, anything by its kind and own words, each with its details. */
export function Inventory({
  file,
  station,
  items,
  onAdd,
  onChange,
}: {
  file: VisitFile
  station: StationId
  items: readonly ItemRecord[]
  onAdd: (p: ItemPreset, missing?: boolean) => void
  onChange: (i: ItemRecord, part: Partial<ItemRecord>) => void
}) {
  const [words, setWords] = useState('')
  const may = (carries?: ItemMore['carries']): boolean =>
    mayTakeOff(file, { station, more: carries ? { kind: 'hose', pieces: [], carries } : undefined }).ok
  const addWords = (): void => {
    const m = /^\s*(\d{1,2})\s*(?:x|×)?\s+(.+)$/.exec(words)
    const name = (m?.[2] ?? words).trim()
    if (!name) return
    onAdd({ name, kind: kindOfItem({ name }), count: Math.min(MOST_PIECES, Number(m?.[1] ?? 1)) })
    setWords('')
  }
  return (
    <section aria-label="what comes off here">
      <div className="mx-0 my-8 gap-8 flex flex-wrap">
        {itemPresetsAt(station, file.vehicle.spec).map((p) => (
          <button key={p.name} type="button" className="act" disabled={!may(p.carries)} onClick={() => onAdd(p)}>
            {p.count} × {p.name} off
          </button>
        ))}
        <button type="button" className="act" onClick={() => onAdd({ name: 'fastener', kind: 'bolt', count: 1 }, true)}>
          one missing on arrival
        </button>
      </div>
      <form
        className="mb-8 flex gap-8"
        onSubmit={(e) => {
          e.preventDefault()
          addWords()
        }}
      >
        <input
          className="field"
          aria-label="something else that comes off"
          placeholder="something else: 3 bracket bolt"
          maxLength={80}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <button type="submit" className="act" disabled={!may() || !words.trim()}>
          off
        </button>
      </form>
      <ul>
        {items.map((i) => (
          <Row key={i.id} file={file} item={i} onChange={(part) => onChange(i, part)} />
        ))}
      </ul>
    </section>
  )
}

function Row({
  file,
  item,
  onChange,
}: {
  file: VisitFile
  item: ItemRecord
  onChange: (part: Partial<ItemRecord>) => void
}) {
  const [open, setOpen] = useState(false)
  const pieces = piecesOf(item)
  const bad = pieces.filter((p) => p.arrival !== 'present')
  const on = item.state === 'on'
  return (
    <li className="border-b border-b-line py-4 leading-tight" data-part={item.name}>
      <div className="grid min-h-52 grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-8">
        <button
          type="button"
          className="min-h-tap text-left leading-tight"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {item.count} × {item.name} <b>{item.state}</b>
          {bad.length ? `, ${bad.length === pieces.length ? '' : `${bad.length} `}${bad[0].arrival} on arrival` : ''}
          {item.againstRule ? ', against the rule' : ''}
          <span className="block text-soft text-small">{detailWords(item) || 'details'}</span>
        </button>
        <input
          className="field w-150 text-small"
          aria-label={`${item.name}: bag, which way`}
          placeholder="bag, which way"
          maxLength={200}
          defaultValue={item.way ?? ''}
          onBlur={(e) => e.target.value.trim() !== (item.way ?? '') && onChange({ way: e.target.value.trim() })}
        />
        <button
          type="button"
          className="act"
          disabled={on && !mayTakeOff(file, item).ok}
          onClick={() => onChange(withAll(item, on ? 'off' : 'on'))}
        >
          {on ? 'off' : 'back on'}
        </button>
      </div>
      {open && <Details item={item} onChange={onChange} />}
    </li>
  )
}

const CARRIES = ['air', 'vacuum', 'coolant', 'fuel', 'oil'] as const

/** Everything of a part that somebody may need again: what it is, how many, size, drive, bag, until when it is loose. */
function Details({ item, onChange }: { item: ItemRecord; onChange: (part: Partial<ItemRecord>) => void }) {
  const pieces = piecesOf(item)
  const kind = kindOfItem(item)
  const more = (part: Partial<ItemMore>): void => onChange({ more: { kind, pieces, ...item.more, ...part } })
  const count = (by: number): void =>
    onChange(
      withPieces(
        item,
        by > 0 ? [...pieces, { state: item.state, arrival: 'present' }] : pieces.slice(0, pieces.length - 1),
      ),
    )
  return (
    <div className="grid gap-8 border-l-6 border-l-line py-6 pl-10">
      <div className="flex items-center gap-8">
        <button
          type="button"
          className="act"
          aria-label="one less"
          disabled={pieces.length < 2}
          onClick={() => count(-1)}
        >
          −
        </button>
        <span className="fig text-figure">{pieces.length}</span>
        <button
          type="button"
          className="act"
          aria-label="one more"
          disabled={pieces.length >= MOST_PIECES}
          onClick={() => count(1)}
        >
          +
        </button>
        <button
          type="button"
          className="act ml-auto"
          onClick={() => onChange({ deleted: true } as Partial<ItemRecord>)}
        >
          written by mistake
        </button>
      </div>
      <Choose
        label="what it is"
        look="line"
        className="flex flex-wrap gap-x-14"
        value={kind}
        choices={ITEM_KINDS.map((k: ItemKind) => ({ value: k, label: k }))}
        onChange={(k) => more({ kind: k })}
      />
      <div className="grid grid-cols-3 gap-8 narrow:grid-cols-1">
        <Line label="drive and size" value={item.drive} max={40} onKeep={(drive) => onChange({ drive })} />
        <Line label="length, thread" value={item.more?.size} max={120} onKeep={(size) => more({ size })} />
        <Line label="bag" value={item.bag} max={20} onKeep={(bag) => onChange({ bag })} />
      </div>
      {kind === 'hose' && (
        <Choose
          label="it carries"
          look="box"
          className="flex flex-wrap gap-4"
          value={item.more?.carries}
          choices={CARRIES.map((c) => ({ value: c, label: c }))}
          onChange={(carries) => more({ carries })}
        />
      )}
      {kind === 'o-ring' && (
        <Line label="its groove" value={item.more?.groove} max={120} onKeep={(groove) => more({ groove })} />
      )}
      {isSeal(item) && <SealChoice item={item} onMore={more} />}
      {['bolt', 'nut', 'stud', 'screw'].includes(kind) && <TorqueField item={item} onMore={more} />}
      {['bolt', 'nut', 'stud'].includes(kind) && (
        <Choose
          label="they stand"
          look="box"
          className="flex gap-4"
          value={item.more?.shape ?? 'round'}
          choices={[
            { value: 'round', label: 'round a hole' },
            { value: 'rows', label: 'in rows' },
          ]}
          onChange={(shape) => more({ shape })}
        />
      )}
      {item.state === 'loose' && (
        <div className="flex flex-wrap items-center gap-8">
          <span className="text-small">loose until</span>
          {LOOSE_UNTIL.map((u) => (
            <button
              key={u}
              type="button"
              className="act"
              aria-pressed={item.until === u}
              onClick={() => onChange({ until: u })}
            >
              {u}
            </button>
          ))}
        </div>
      )}
      <Line
        label="bought together with"
        value={item.more?.pairedWith}
        max={120}
        onKeep={(pairedWith) => more({ pairedWith })}
      />
    </div>
  )
}

function Line({
  label,
  value,
  max,
  onKeep,
}: {
  label: string
  value: string | undefined
  max: number
  onKeep: (text: string | undefined) => void
}) {
  return (
    <label className="block">
      <span className="block text-small text-soft">{label}</span>
      <input
        className="field"
        maxLength={max}
        defaultValue={value ?? ''}
        onBlur={(e) => e.target.value.trim() !== (value ?? '') && onKeep(e.target.value.trim() || undefined)}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
    </label>
  )
}
