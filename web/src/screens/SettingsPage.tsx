import { Check, ChevronLeft, X } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import { EQUIPMENT, faultOf, parseTyped, QUANTITIES, type QuantityId } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { ApiProblem, putJson } from '../store/api.js'
import { newId } from '../store/database.js'
import { changeSettings, useSettings } from '../store/settings.js'
import { useBay } from '../store/visit.js'
import { useOutcomeCount } from '../workers/heart.js'
import { Waiting } from './States.js'

const CHOSEN: readonly [QuantityId, string][] = [
  ['pressure', 'pressure, vacuum'],
  ['massFlow', 'airflow'],
  ['temperature', 'temperature'],
  ['distance', 'distance'],
]

/** This device: theme, name, units. The shop: its place and its prices. */
export function SettingsPage() {
  const settings = useSettings()
  const { bay } = useBay()
  return (
    <div className="p-gap gap-20 max-w-1280 grid narrow:p-16">
      <header className="pb-10 border-b-2 border-b-ink gap-16 flex items-center">
        <Link to="/" className="w-tap h-tap grid place-items-center" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="mr-auto text-name font-semibold">Settings</h1>
      </header>
      <div className="gap-40 grid grid-cols-[minmax(0,1fr)_380px] narrow:grid-cols-1">
        <div>
          <section className="mb-24 gap-4 grid content-start">
            <h2 className="text-soft text-small">this device</h2>
            <div className="gap-8 flex items-center flex-wrap">
              <span className="first:w-150">light</span>
              {(['day', 'night'] as const).map((t) => (
                <button
                  key={t}
                  type="button"
                  className="act"
                  aria-pressed={settings.theme === t}
                  onClick={() => changeSettings({ theme: t })}
                >
                  {t}
                </button>
              ))}
            </div>
            <div className="gap-8 flex items-center flex-wrap">
              <span className="first:w-150">who works here</span>
              <input
                className="field w-146 flex-none narrow:w-130"
                defaultValue={settings.technician}
                maxLength={60}
                onBlur={(e) => changeSettings({ technician: e.target.value.trim() || 'Technician' })}
              />
            </div>
            {CHOSEN.map(([id, label]) => (
              <div className="gap-8 flex items-center flex-wrap" key={id} role="group" aria-label={label}>
                <span className="first:w-150">{label}</span>
                {QUANTITIES[id].units.slice(0, 4).map((u, i) => (
                  <button
                    key={u.symbol}
                    type="button"
                    className="act"
                    aria-pressed={(settings.units[id] ?? QUANTITIES[id].units[0].symbol) === u.symbol}
                    onClick={() =>
                      changeSettings({ units: { ...settings.units, [id]: i === 0 ? undefined : u.symbol } })
                    }
                  >
                    {u.symbol}
                  </button>
                ))}
              </div>
            ))}
          </section>
          <Equipment />
        </div>
        <div>
          {bay ? <ShopFields shop={bay.shop} /> : <Waiting what="the shop" />}
          <OwnOutcomes />
        </div>
      </div>
    </div>
  )
}

/** What is at hand: tests that need anything else are not proposed. */
function Equipment() {
  const { missing } = useSettings()
  return (
    <section className="mb-24 gap-4 grid content-start">
      <h2 className="text-soft text-small">equipment at hand: tests that need anything else are not proposed</h2>
      <div className="gap-8 flex items-center flex-wrap" role="group" aria-label="equipment at hand">
        {EQUIPMENT.map((name) => {
          const here = !missing.includes(name)
          return (
            <button
              key={name}
              type="button"
              className="act aria-[pressed=false]:text-soft"
              aria-pressed={here}
              onClick={() => changeSettings({ missing: here ? [...missing, name] : missing.filter((x) => x !== name) })}
            >
              {here ? <Check size={18} aria-hidden /> : <X size={18} aria-hidden />} {name}
            </button>
          )
        })}
      </div>
    </section>
  )
}

/** What this shop has confirmed, and whether it counts. */
function OwnOutcomes() {
  const { ownOutcomes } = useSettings()
  const count = useOutcomeCount(true)
  const counted = Object.entries(count?.causes ?? {}).sort((a, b) => b[1] - a[1])
  const ready = count && count.counted === count.of
  return (
    <section className="mb-24 gap-4 grid content-start">
      <h2 className="text-soft text-small">causes confirmed in this shop: found, mended, measured as gone</h2>
      <div className="gap-8 flex items-center flex-wrap" role="group" aria-label="own outcomes">
        <span className="first:w-150">count them in</span>
        {[true, false].map((on) => (
          <button
            key={String(on)}
            type="button"
            className="act"
            aria-pressed={ownOutcomes === on}
            onClick={() => changeSettings({ ownOutcomes: on })}
          >
            {on ? 'yes' : 'no'}
          </button>
        ))}
      </div>
      {counted.map(([id, n]) => (
        <div className="gap-8 flex items-center flex-wrap" key={id}>
          <span className="first:w-150">{faultOf(id).label}</span>
          <span className="fig first:w-150">{n}</span>
        </div>
      ))}
      {ready ? (
        !counted.length && <p className="text-soft">None yet.</p>
      ) : (
        <p role="status">
          {count ? `Weighing visits: ${count.counted} of ${count.of}` : 'Asking for the visits'}
          <span className="progress" role="progressbar" aria-label="weighing visits" />
        </p>
      )}
    </section>
  )
}

const SHOP_FIELDS: readonly {
  readonly key: 'altitudeM' | 'labourPerHour'
  readonly label: string
  readonly unit: string
}[] = [
  { key: 'altitudeM', label: 'altitude', unit: 'm' },
  { key: 'labourPerHour', label: 'labour an hour', unit: '' },
]

function ShopFields({ shop }: { shop: Shop }) {
  const client = useQueryClient()
  const [problem, setProblem] = useState<string>()
  const save = async (part: Partial<Shop>): Promise<void> => {
    const { demo: _, ...rest } = { ...shop, ...part }
    try {
      await putJson('/api/shop', rest, newId())
      setProblem(undefined)
      await client.invalidateQueries({ queryKey: ['bay'] })
    } catch (e) {
      setProblem(e instanceof ApiProblem ? e.message : 'The server does not answer: the shop is not changed.')
    }
  }
  return (
    <section className="mb-24 gap-4 grid content-start">
      <h2 className="text-soft text-small">the shop</h2>
      <div className="gap-8 flex items-center flex-wrap">
        <span className="first:w-150">name</span>
        <input
          className="field w-146 flex-none narrow:w-130"
          defaultValue={shop.name}
          onBlur={(e) => void save({ name: e.target.value })}
        />
      </div>
      {SHOP_FIELDS.map((f) => (
        <div className="gap-8 flex items-center flex-wrap" key={f.key}>
          <span className="first:w-150">{f.label}</span>
          <input
            className="field w-146 flex-none narrow:w-130"
            inputMode="decimal"
            defaultValue={shop[f.key]}
            onBlur={(e) => {
              const typed = parseTyped(e.target.value, 'number', QUANTITIES.number.units[0])
              if (typed.ok) void save({ [f.key]: typed.value })
              else setProblem(typed.message)
            }}
          />
          <span className="first:w-150 text-soft">{f.unit || shop.currency}</span>
        </div>
      ))}
      {problem && <p className="wrong">{problem}</p>}
    </section>
  )
}
