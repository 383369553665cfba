import { useState } from 'react'
import { LINKAGE_FIRST, linkageBalanced, LIVE_STOPS, SPREAD_LIMIT_KPA, type VisitFile } from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { GaugeLink } from './GaugeLink.js'
import { Advice, Bars, Drift, Turns } from './ThrottleParts.js'
import { ThrottlesBig } from './ThrottlesBig.js'
import { ThrottleRows } from './ThrottleRows.js'
import { useThrottles } from './useThrottles.js'
import { LAYOUT_CHOICES, SLOT_CHOICES, SLOT_WORDS } from './words.js'

/** Throttles against each other: the row that was read, how far it is out, which screw, which way, about how far. */
export function ThrottleBench({ file }: { file: VisitFile }) {
  const t = useThrottles(file)
  const { gauges, n, unit, slot, layout, rows, advice, live, shown, practise, refusals, turned, turn, keep } = t
  const [big, setBig] = useState(false)
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(300px,0.8fr)] gap-gap py-8 narrow:grid-cols-1">
      <section>
        <div className="mb-8 flex flex-wrap gap-8">
          <Choose
            label="speed"
            look="box"
            className="flex gap-4"
            value={slot}
            choices={SLOT_CHOICES}
            onChange={t.choose}
          />
          {n === 4 && (
            <Choose
              label="linkage"
              look="box"
              className="flex gap-4"
              value={layout}
              choices={LAYOUT_CHOICES}
              onChange={t.setLayout}
            />
          )}
        </div>
        {slot === 'idle' && !linkageBalanced(file.balances) ? (
          <p className="wrong" role="alert">
            {LINKAGE_FIRST}
          </p>
        ) : (
          <>
            {advice && <Advice advice={advice} />}
            {!practise &&
              LIVE_STOPS.filter((id) => !stopSeen(file, id)).map((id) => <Stop key={id} file={file} id={id} />)}
            <Bars
              n={n}
              shown={shown}
              live={live !== undefined}
              unit={unit}
              typed={t.typed}
              onType={t.setTyped}
              onEnter={keep}
            />
            {t.problem && (
              <p className="wrong" role="alert">
                {t.problem}
              </p>
            )}
            {advice?.adjuster && <Turns advice={advice} turned={turned} onTurn={turn} />}
            {refusals.map((r) => (
              <p key={r.rule} className="wrong" data-rule={r.rule}>
                {r.message}
              </p>
            ))}
            <div className="sticky bottom-0 z-1 bg-face py-8">
              <button
                type="button"
                className="act strong w-full justify-center"
                disabled={refusals.length > 0 || (!live && t.typed.every((x) => !x.trim()))}
                onClick={keep}
              >
                keep this row, {SLOT_WORDS[slot]}
              </button>
            </div>
          </>
        )}
      </section>
      <section>
        <GaugeLink file={file} gauges={gauges} tone={t.tone} onTone={t.setTone} />
        {live && (slot === 'hold-2500' || linkageBalanced(file.balances)) && (
          <button type="button" className="act strong mb-14 w-full justify-center" onClick={() => setBig(true)}>
            big bars: both hands at the screws
          </button>
        )}
        {big && live && (
          <ThrottlesBig
            vacuumKpa={live}
            unit={unit}
            advice={advice}
            limitKpa={advice?.limitKpa ?? SPREAD_LIMIT_KPA}
            turned={turned !== undefined}
            may={refusals.length === 0}
            onTurned={() => advice?.turns !== undefined && turn(advice.turns)}
            onKeep={keep}
            onClose={() => setBig(false)}
          />
        )}
        <Drift file={file} slot={slot} unit={unit} now={rows.at(-1)?.taken.vacuumKpa} />
        <ThrottleRows rows={rows} unit={unit} where={SLOT_WORDS[slot]} onLeaveOut={t.leaveOut} />
      </section>
    </div>
  )
}
