import { useCallback, useEffect, useMemo, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useParams } from 'react-router'
import {
  kindAt,
  LED_SLOTS,
  ledBand,
  ledHint,
  mayKeepLive,
  roundToFill,
  SLOTS,
  vehicleAtPlace,
  type LedSlot,
  type VisitFile,
} from '@uvula/core'
import { HOTKEYS } from '../kit/hotkeys.js'
import { Views } from '../kit/Views.js'
import { BackToVisit } from '../parts/BackToVisit.js'
import { Delivery } from '../parts/Delivery.js'
import { Failing, Waiting } from '../parts/States.js'
import { postJson } from '../store/api.js'
import { beep } from '../store/sound.js'
import { useShop, useVisitFile } from '../store/visit.js'
import { useDiagnosis, useSoundRecords } from '../workers/heart.js'
import { CodesPanel } from './CodesPanel.js'
import { Connect } from './Connect.js'
import { Figures } from './Figures.js'
import { Foot } from './Foot.js'
import { newestValues } from './liveReadings.js'
import { liveStore, useLive, type LiveView } from './liveStore.js'
import { LinkWord } from './LinkWord.js'
import { RecordBlock } from './RecordBlock.js'
import { SoFar } from './SoFar.js'
import { Target } from './Target.js'
import { useLiveEvidence } from './useLiveEvidence.js'
import './live.css'

/** Rows that the hint looks at [s]. */
const HINT_S = 40

/** Live data of the car of a visit: connect, be led through the points, record, read codes. */
export function Live() {
  const { id = '' } = useParams()
  const { file, error } = useVisitFile(id)
  const live = useLive()
  const shop = useShop()
  if (error && !file) return <Failing error={error} />
  if (!file || !shop) return <Waiting what="the visit" />
  return <Open file={file} live={live} demo={shop.demo} />
}

interface LiveProps {
  readonly file: VisitFile
  readonly live: LiveView
  /** The demo shop is open. */
  readonly demo: boolean
}

function Open({ file, live, demo }: LiveProps) {
  const { state, recording } = live
  const here = recording?.visitId === file.visit.id ? recording : undefined
  const connected = state !== undefined && state.phase !== 'off' && state.visitId === file.visit.id
  // what is being recorded stays on the bench when its link is gone
  const running = connected || here !== undefined
  return (
    <div className="h-full grid grid-cols-[minmax(0,1fr)_300px] grid-rows-[54px_minmax(0,1fr)_auto] [grid-template-areas:'head_head'_'bench_side'_'foot_foot'] phone:grid-cols-1 phone:grid-rows-[auto_minmax(0,1fr)_auto_auto] phone:[grid-template-areas:'head'_'bench'_'side'_'foot']">
      <header className="visit-head pr-gap pl-8 py-0 border-b-2 border-b-ink gap-12 [grid-area:head] flex items-center phone:pb-4 phone:flex-wrap narrow:pr-12 narrow:pl-0 narrow:py-0 narrow:gap-4 narrow:flex-wrap">
        <BackToVisit file={file} />
        <h1 className="overflow-hidden flex-[0_1_auto] min-w-0 text-lead whitespace-nowrap text-ellipsis narrow:basis-[60%]">
          <b>{file.vehicle.spec.name}</b> <span className="text-body text-soft narrow:hidden">live data</span>
        </h1>
        <LinkWord live={live} />
        <Delivery />
        {connected && (
          <button type="button" className="act" onClick={() => void postJson('/api/link/disconnect', {})}>
            disconnect
          </button>
        )}
      </header>
      {running ? (
        <Bench file={file} live={live} demo={demo} />
      ) : (
        <Connect file={file} state={state} reached={live.reached} />
      )}
    </div>
  )
}

function Bench({ file, live, demo }: LiveProps) {
  const { state } = live
  const recording = live.recording?.visitId === file.visit.id ? live.recording : undefined
  const [chosen, setChosen] = useState<LedSlot>()
  const [side, setSide] = useState<'so-far' | 'codes'>('so-far')
  const vehicle = useMemo(() => vehicleAtPlace(file), [file])
  const evidence = useLiveEvidence(file, recording, live.rows)
  const { got } = evidence
  const { diagnosis } = useDiagnosis(evidence.file, recording?.round ?? roundToFill(file))
  const next = LED_SLOTS.find((s) => !got.has(s))
  const values = newestValues(live.samples)
  // whoever holds another point that is wanted is not sent away from it
  const standing =
    recording && LED_SLOTS.find((s) => SLOTS[s].rpm && !got.has(s) && within(values.rpm, ledBand(s, vehicle)))
  const slot = chosen && !got.has(chosen) ? chosen : (standing ?? next ?? 'idle')
  const sound = useSoundRecords(file)
  const place = {
    vehicle,
    kind: kindAt(values, vehicle, slot === 'idle-load'),
    rpm: values.rpm,
    manifoldKpa: values.map_kpa,
    ambientC: file.visit.ambientC,
  }
  const since = (live.samples.at(-1)?.t ?? 0) - HINT_S
  // before anything is recorded the hint goes by what comes in
  const source = recording ? live.rows : live.samples
  const able = state?.phase === 'live' && live.reached === true
  const hint = ledHint(slot, vehicle, able ? source.slice(-HINT_S * 10).filter((s) => s.t > since) : [])
  const gotCount = got.size
  useEffect(() => {
    // heard from two metres: a point is in
    if (gotCount > 0) beep(880)
  }, [gotCount])
  const mark = useCallback(() => {
    liveStore.mark()
    beep(660)
  }, [])
  useHotkeys('m', mark, HOTKEYS, [mark])
  return (
    <>
      <main className="overflow-auto [grid-area:bench] min-h-0">
        <Target
          slot={slot}
          hint={hint}
          rpm={able ? values.rpm : undefined}
          vehicle={vehicle}
          got={got}
          points={evidence.points}
          recording={recording !== undefined}
          done={next === undefined}
          onChoose={setChosen}
        />
        <Figures live={live} values={values} place={place} sound={sound} marks={recording?.marks ?? []} fresh={able} />
      </main>
      <aside
        className="live-side px-14 py-12 border-l-2 border-l-ink overflow-auto [grid-area:side] phone:border-t-2 phone:border-l-0 phone:border-t-ink phone:max-h-[38vh]"
        aria-label="recording"
      >
        <RecordBlock
          file={file}
          live={live}
          demo={demo}
          recording={recording}
          evidence={evidence}
          complete={next === undefined}
          onMark={mark}
        />
        <Views
          label="beside it"
          value={side}
          onChange={setSide}
          views={[
            { value: 'so-far', label: 'so far', body: <SoFar diagnosis={diagnosis} points={evidence.points} /> },
            {
              value: 'codes',
              label: 'codes',
              body: <CodesPanel file={file} able={able} keep={mayKeepLive(state?.standIn === true, demo)} />,
            },
          ]}
        />
      </aside>
      {state?.standIn && state.phase !== 'off' && <Foot />}
    </>
  )
}

const within = (x: number | undefined, band: { readonly low: number; readonly high: number }): boolean =>
  x !== undefined && x >= band.low && x <= band.high
