import { ChevronLeft } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import { EQUIPMENT, faultOf, QUANTITIES } from '@uvula/core'
import { ShopForm, type Shop } from '@uvula/contract'
import { Choose } from '../kit/Choose.js'
import { Field } from '../kit/Field.js'
import { Tick } from '../kit/Tick.js'
import { asNumber, useChecked } from '../kit/useChecked.js'
import { Working } from '../kit/Working.js'
import { Network } from '../access/Network.js'
import { useMayRunShop } from '../access/useMayRunShop.js'
import { WhoWorks } from '../parts/WhoWorks.js'
import { overNetwork } from '../store/access.js'
import { ApiProblem, putJson } from '../store/api.js'
import { newId } from '../store/database.js'
import { changeSettings, useSettings } from '../store/settings.js'
import { useShop } from '../store/visit.js'
import { useOutcomeCount } from '../workers/heart.js'
import { Backups } from './Backups.js'
import { Waiting } from '../parts/States.js'
import { CHOSEN, THEMES, YES_NO } from './words.js'

/** This device: theme, name, units. The shop: its place and its prices. */
export function SettingsPage() {
  const settings = useSettings()
  const shop = useShop()
  const mayRun = useMayRunShop()
  return (
    <div className="p-gap gap-20 max-w-1280 grid narrow:p-16">
      <header className="pb-10 border-b-2 border-b-ink gap-16 flex items-center">
        <Link to="/" className="w-tap h-tap grid place-items-center" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="mr-auto text-name font-semibold">Settings</h1>
      </header>
      <main className="contents">
        <div className="gap-40 grid grid-cols-[minmax(0,1fr)_380px] narrow:grid-cols-1">
          <div>
            <section className="mb-24 gap-4 grid content-start">
              <h2 className="text-soft text-small">this device</h2>
              <div className="gap-8 flex items-center flex-wrap">
                <span className="first:w-150">light</span>
                <Choose
                  label="light"
                  look="box"
                  className="flex flex-wrap gap-8"
                  value={settings.theme}
                  choices={THEMES}
                  onChange={(theme) => changeSettings({ theme })}
                />
              </div>
              <div className="gap-8 flex items-center flex-wrap">
                <span className="first:w-150">who works here</span>
                {overNetwork ? (
                  <WhoWorks />
                ) : (
                  <input
                    aria-label="who works here"
                    className="field w-146 flex-none narrow:w-130"
                    defaultValue={settings.technician}
                    maxLength={60}
                    onBlur={(e) => changeSettings({ technician: e.target.value.trim() || 'Technician' })}
                  />
                )}
              </div>
              {CHOSEN.map(([id, label]) => (
                <div className="gap-8 flex items-center flex-wrap" key={id}>
                  <span className="first:w-150">{label}</span>
                  <Choose
                    label={label}
                    look="box"
                    className="flex flex-wrap gap-8"
                    value={settings.units[id] ?? QUANTITIES[id].units[0].symbol}
                    choices={QUANTITIES[id].units.slice(0, 4).map((u) => ({ value: u.symbol, label: u.symbol }))}
                    onChange={(u) =>
                      changeSettings({
                        units: { ...settings.units, [id]: u === QUANTITIES[id].units[0].symbol ? undefined : u },
                      })
                    }
                  />
                </div>
              ))}
            </section>
            <Equipment />
            {mayRun && (
              <>
                <Network />
                <Backups />
              </>
            )}
          </div>
          <div>
            {shop ? <ShopFields shop={shop} mayChange={mayRun} /> : <Waiting what="the shop" />}
            <OwnOutcomes />
          </div>
        </div>
      </main>
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
            <Tick
              key={name}
              checked={here}
              onChange={() =>
                changeSettings({ missing: here ? [...missing, name] : missing.filter((x) => x !== name) })
              }
              className={here ? '' : 'text-soft'}
            >
              {name}
            </Tick>
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
      <div className="gap-8 flex items-center flex-wrap">
        <span className="first:w-150">count them in</span>
        <Choose
          label="own outcomes"
          look="box"
          className="flex gap-8"
          value={ownOutcomes ? 'yes' : 'no'}
          choices={YES_NO}
          onChange={(x) => changeSettings({ ownOutcomes: x === 'yes' })}
        />
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
          <Working label="weighing visits" />
        </p>
      )}
    </section>
  )
}

/** The shop's own figures, each kept as it is left and right. */
function ShopFields({ shop, mayChange }: { shop: Shop; mayChange: boolean }) {
  const client = useQueryClient()
  const { name, altitudeM, labourPerHour, taxPct = 0 } = shop
  const form = useChecked(ShopForm, { name, altitudeM, labourPerHour, taxPct })
  const { errors } = form.formState
  const [problem, setProblem] = useState<string>()
  const keep = async (key: keyof ShopForm): Promise<void> => {
    if (!(await form.trigger(key)) || form.getValues(key) === shop[key]) return
    const { demo: _, ...rest } = { ...shop, [key]: form.getValues(key) }
    try {
      await putJson('/api/shop', rest, newId())
      setProblem(undefined)
      await client.invalidateQueries({ queryKey: ['bay'] })
    } catch (e) {
      setProblem(e instanceof ApiProblem ? e.message : 'The server does not answer: the shop is not changed.')
    }
  }
  return (
    <section className="mb-24 grid content-start gap-4">
      <h2 className="text-small text-soft">the shop</h2>
      {!mayChange && <p>An owner of the shop changes these.</p>}
      <form>
        <fieldset className="m-0 grid min-w-0 gap-4 border-0 p-0" disabled={!mayChange}>
          <Field
            label="name"
            look="above"
            error={errors.name?.message}
            {...form.register('name', { onBlur: () => void keep('name') })}
          />
          <Field
            label="altitude"
            unit="m"
            inputMode="decimal"
            error={errors.altitudeM?.message}
            {...form.register('altitudeM', { setValueAs: asNumber('altitude'), onBlur: () => void keep('altitudeM') })}
          />
          <Field
            label="labour an hour"
            unit={shop.currency}
            inputMode="decimal"
            error={errors.labourPerHour?.message}
            {...form.register('labourPerHour', {
              setValueAs: asNumber('number'),
              onBlur: () => void keep('labourPerHour'),
            })}
          />
          <Field
            label="tax on both"
            unit="%"
            inputMode="decimal"
            error={errors.taxPct?.message}
            {...form.register('taxPct', { setValueAs: asNumber('number'), onBlur: () => void keep('taxPct') })}
          />
        </fieldset>
      </form>
      <Link className="inline-flex min-h-tap items-center underline underline-offset-4" to="/procedures">
        procedures of this shop
      </Link>
      <a
        className="inline-flex min-h-tap items-center underline underline-offset-4"
        href="/api/visits.csv"
        download="visits.csv"
      >
        all visits as a table
      </a>
      {problem && <p className="wrong">{problem}</p>}
    </section>
  )
}
