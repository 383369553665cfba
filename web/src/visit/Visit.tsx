import { ChevronLeft, ChevronUp, Undo2 } from 'lucide-react'
import {
  memo,
  useCallback,
  useDeferredValue,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import {
  complaintOf,
  describeEngine,
  lastRound,
  nowAct,
  roundToFill,
  STAGES,
  visitPressureKpa,
  VISIT_NOUNS,
  type Diagnosis,
  type StageId,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { RingLegend } from './RingLegend.js'
import { HOTKEYS } from '../kit/hotkeys.js'
import { Scroll } from '../kit/Scroll.js'
import { useNarrow } from '../kit/useNarrow.js'
import { AirStrip } from './AirStrip.js'
import { AirLine } from './AirLine.js'
import { Delivery } from '../parts/Delivery.js'
import { WhoWorks } from '../parts/WhoWorks.js'
import { Undelivered } from '../parts/Undelivered.js'
import { DropArea } from './FileDrop.js'
import { PlaceDialog } from './PlaceDialog.js'
import { Rail } from './Rail.js'
import { Together } from './Together.js'
import { Ruler } from './Ruler.js'
import { Arrive } from '../stages/arrive/Arrive.js'
import { HandOver } from '../stages/hand-over/HandOver.js'
import { Look } from '../stages/look/Look.js'
import { Measure } from '../stages/measure/Measure.js'
import { Clean } from '../stages/clean/Clean.js'
import { Decarbonize } from '../stages/decarbonize/Decarbonize.js'
import { FirstStart } from '../stages/first-start/FirstStart.js'
import { Learn } from '../stages/learn/Learn.js'
import { CloseUp } from '../stages/close-up/CloseUp.js'
import { OpenUp } from '../stages/open-up/OpenUp.js'
import { Prove } from '../stages/prove/Prove.js'
import { Station } from '../stages/station/Station.js'
import { Trace } from '../stages/trace/Trace.js'
import { baseOf, outbox } from '../store/outbox.js'
import { technician } from '../store/settings.js'
import { undoStack } from '../store/undo.js'
import { useShop, useVisitFile } from '../store/visit.js'
import { useDiagnosis } from '../workers/heart.js'
import { nowLink } from '../parts/nowLink.js'
import { Failing, Waiting } from '../parts/States.js'
import { shopIso } from '../store/clock.js'

/** One visit: air line, bench, rail, ruler. */
export function Visit() {
  const { id = '', stage } = useParams()
  const { file, error } = useVisitFile(id)
  const shop = useShop()
  if (error && !file) return <Failing error={error} />
  if (!file || !shop) return <Waiting what="the visit" />
  return <VisitOpen file={file} shop={shop} stage={STAGES.find((s) => s.id === stage)?.id} />
}

function VisitOpen({ file, shop, stage: asked }: { file: VisitFile; shop: Shop; stage?: StageId }) {
  // a tap is answered where it was made first; what stands around the bench follows when that is drawn
  const around = useDeferredValue(file)
  const { diagnosis, busy } = useDiagnosis(around, lastRound(around))
  const stage = asked ?? nowAct(file, diagnosis).stage
  const navigate = useNavigate()
  const [search, setSearch] = useSearchParams()
  const open = (search.get('at') as StationId | null) ?? undefined
  const view = search.get('view')
  // back at the bench its view is the one that was left
  const show = useCallback(
    (more: Record<string, string>) => setSearch(view ? { view, ...more } : more),
    [view, setSearch],
  )
  const openStation = useCallback((id: StationId, test?: string) => show(test ? { at: id, test } : { at: id }), [show])
  const closeStation = useCallback(() => show({}), [show])
  const undo = useUndo(file)

  const goTo = (id: StageId | undefined): void =>
    void (id && navigate(`/visit/${encodeURIComponent(file.visit.id)}/${id}`))
  // two presses in a row are two stages, however long the first takes to be drawn
  const standsAt = useRef(stage)
  useEffect(() => void (standsAt.current = stage), [stage])
  const step = (by: 1 | -1): void => {
    const next = STAGES[STAGES.findIndex((s) => s.id === standsAt.current) + by]?.id
    if (next) standsAt.current = next
    goTo(next)
  }
  useHotkeys('mod+z', undo, { ...HOTKEYS, preventDefault: true })
  useHotkeys('esc', () => open && closeStation(), HOTKEYS)
  useHotkeys('[', () => step(-1), { ...HOTKEYS, useKey: true })
  useHotkeys(']', () => step(1), { ...HOTKEYS, useKey: true })
  useHotkeys('n', () => void navigate(nowLink(file.visit.id, nowAct(file, diagnosis))), HOTKEYS)
  const [lineOpen, setLineOpen] = useState(false)
  const openLine = useCallback(() => setLineOpen(true), [])
  const narrow = useNarrow()
  const wholeLine = lineOpen || open !== undefined || (!narrow && ON_THE_LINE.includes(stage))

  return (
    <DropArea file={file} round={roundToFill(file)}>
      <div
        data-line={wholeLine ? 'whole' : 'strip'}
        className="h-full grid grid-cols-[minmax(0,1fr)_var(--spacing-rail)] grid-rows-[54px_auto_minmax(0,1fr)_60px] [grid-template-areas:'head_head'_'line_line'_'bench_rail'_'ruler_ruler'] narrow:grid-cols-1 narrow:grid-rows-[auto_auto_minmax(0,1fr)_auto_58px] narrow:[grid-template-areas:'head'_'line'_'bench'_'rail'_'ruler'] short:h-auto short:min-h-full short:grid-rows-[auto_auto_minmax(360px,auto)_auto] narrow:short:grid-cols-2 narrow:short:grid-rows-[48px_auto_minmax(240px,auto)_auto] narrow:short:[grid-template-areas:'head_head'_'line_rail'_'bench_bench'_'ruler_ruler'] narrow:short:data-[line=whole]:grid-rows-[48px_auto_auto_minmax(240px,auto)_auto] narrow:short:data-[line=whole]:[grid-template-areas:'head_head'_'line_line'_'rail_rail'_'bench_bench'_'ruler_ruler'] print:block print:h-auto"
      >
        <Head file={file} stage={stage} onUndo={undo} />
        <div className="relative min-w-0 [grid-area:line] print:hidden">
          {wholeLine ? (
            <>
              <AirLine file={around} diagnosis={diagnosis} open={open} onOpen={openStation} />
              <div className="absolute right-gap bottom-2 narrow:static narrow:float-right narrow:px-14">
                <RingLegend />
              </div>
              {lineOpen && (
                <button
                  type="button"
                  className="act absolute top-4 right-gap narrow:static narrow:ml-14"
                  onClick={() => setLineOpen(false)}
                >
                  <ChevronUp size={20} aria-hidden /> less
                </button>
              )}
            </>
          ) : (
            <AirStrip file={around} onOpen={openLine} />
          )}
        </div>
        <BenchArea
          file={file}
          stage={stage}
          open={open}
          test={search.get('test') ?? undefined}
          diagnosis={diagnosis}
          busy={busy}
          shop={shop}
          onOpen={openStation}
          onClose={closeStation}
        />
        <Rail file={around} diagnosis={diagnosis} stage={stage} />
        <Ruler file={around} stage={stage} />
      </div>
    </DropArea>
  )
}

interface HeadProps {
  readonly file: VisitFile
  readonly stage: StageId
  readonly onUndo: () => void
}

/** Of a visit the head shows car, complaint and place: what is entered at a bench does not draw it anew. */
const showsTheSame = (a: HeadProps, b: HeadProps): boolean =>
  a.file.vehicle === b.file.vehicle && a.file.visit === b.file.visit && a.stage === b.stage && a.onUndo === b.onUndo

/** Which car, who else is on it, what is on its way, and where it stands. */
const Head = memo(function Head({ file, stage, onUndo }: HeadProps) {
  return (
    <header className="visit-head pr-gap pl-8 py-0 gap-12 [grid-area:head] flex items-center narrow:pr-12 narrow:pl-0 narrow:py-0 narrow:gap-4 narrow:flex-wrap narrow:short:flex-nowrap print:hidden">
      <Link to="/" className="w-tap h-tap grid place-items-center" aria-label="to the bay">
        <ChevronLeft size={30} aria-hidden />
      </Link>
      <h1 className="overflow-hidden flex-1 min-w-0 text-lead whitespace-nowrap text-ellipsis narrow:basis-[60%] narrow:short:basis-0">
        <Link
          className="inline-flex min-h-tap items-center no-underline"
          to={`/car/${encodeURIComponent(file.vehicle.id)}`}
        >
          <b>{file.vehicle.spec.name}</b>
        </Link>{' '}
        <span className="text-body text-soft narrow:hidden">
          {describeEngine(file.vehicle.spec)}
          {`; ${complaintOf(file.visit)}`}
        </span>
      </h1>
      <UndoButton visitId={file.visit.id} onUndo={onUndo} />
      <Together visitId={file.visit.id} stage={stage} />
      <Delivery />
      <WhoWorks />
      <PlaceDialog file={file} pressureKpa={visitPressureKpa(file.visit)} />
    </header>
  )
}, showsTheSame)

function UndoButton({ visitId, onUndo }: { visitId: string; onUndo: () => void }) {
  const nothing = useSyncExternalStore(undoStack.subscribe, () => undoStack.depth(visitId) === 0)
  return (
    <button
      type="button"
      className="w-tap grid place-items-center disabled:text-line"
      aria-label="undo"
      disabled={nothing}
      onClick={onUndo}
    >
      <Undo2 size={24} aria-hidden />
    </button>
  )
}

/** Stages that work on the line itself; on the others it is a strip until it is touched. */
const ON_THE_LINE: readonly StageId[] = ['look', 'trace']

interface AreaProps extends BenchProps {
  /** A station that is open in place of the stage's bench. */
  readonly open?: StationId
  readonly test?: string
  readonly onClose: () => void
}

/** What is worked on: the bench of the stage, or a station; what stands around it is drawn without it. */
const BenchArea = memo(function BenchArea({ open, test, onClose, ...bench }: AreaProps) {
  const { file, stage, shop } = bench
  return (
    <main className="visit-bench min-h-0 [grid-area:bench] print:overflow-visible">
      <Scroll key={`${stage} ${open ?? ''}`} className="h-full short:h-auto">
        <Undelivered visitId={file.visit.id} />
        {open ? (
          <Station key={open} file={file} id={open} first={test} shop={shop} onClose={onClose} />
        ) : (
          <Bench {...bench} />
        )}
      </Scroll>
    </main>
  )
})

interface BenchProps {
  readonly stage: StageId
  readonly file: VisitFile
  readonly diagnosis?: Diagnosis
  readonly busy: boolean
  readonly shop: Shop
  readonly onOpen: (id: StationId, test?: string) => void
}

function Bench({ stage, file, diagnosis, busy, shop, onOpen }: BenchProps) {
  switch (stage) {
    case 'arrive':
      return <Arrive file={file} />
    case 'look':
      return <Look file={file} diagnosis={diagnosis} onOpen={onOpen} />
    case 'measure':
      return <Measure file={file} />
    case 'trace':
      return <Trace file={file} diagnosis={diagnosis} busy={busy} shop={shop} onOpen={onOpen} />
    case 'prove':
      return <Prove file={file} diagnosis={diagnosis} onOpen={onOpen} />
    case 'hand-over':
      return <HandOver file={file} shop={shop} />
    case 'open-up':
      return <OpenUp file={file} />
    case 'clean':
      return <Clean file={file} />
    case 'decarbonize':
      return <Decarbonize file={file} />
    case 'close-up':
      return <CloseUp file={file} />
    case 'first-start':
      return <FirstStart file={file} />
    case 'learn':
      return <Learn file={file} />
  }
}

/** Takes the last entry of this visit back: by writing what stood before. */
function useUndo(file: VisitFile): () => void {
  const latest = useRef(file)
  useLayoutEffect(() => void (latest.current = file))
  return useCallback(() => {
    const file = latest.current
    undoStack.pop(file.visit.id, (u) => {
      const lists = [...VISIT_NOUNS.flatMap((n) => [...file[n]]), file.visit]
      const now = lists.find((r) => r.id === u.id)
      void outbox.add({
        noun: u.noun,
        id: u.id,
        visitId: file.visit.id,
        by: technician(),
        at: shopIso(),
        ...baseOf(outbox.snapshot().writes, u.noun, u.id, now?.version ?? 0),
        data: u.data,
      })
    })
  }, [])
}
