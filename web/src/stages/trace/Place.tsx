import { ChevronRight } from 'lucide-react'
import {
  airPathOf,
  faultOf,
  hasTrims,
  holdingStations,
  isAccountOfAir,
  live,
  nextPlaces,
  placesToMend,
  seatsHere,
  siteShares,
  stationInfo,
  stationStates,
  testInfo,
  visitLedger,
  type Diagnosis,
  type StationId,
  type StationState,
  type Vehicle,
  type VisitFile,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { Ring } from '../../parts/Ring.js'
import { useSettings } from '../../store/settings.js'
import { sayShare, useFormat } from '../../words/format.js'
import { Account } from './Account.js'
import { Mend } from './Mend.js'

/** Where the air comes in, what is accounted for, and the choice between ways to mend it. */
export function Place({
  file,
  diagnosis,
  shop,
  onOpen,
}: {
  file: VisitFile
  diagnosis?: Diagnosis
  shop: Shop
  onOpen: (id: StationId) => void
}) {
  const states = stationStates(file)
  const format = useFormat()
  const findings = live(file.findings).filter((x) => x.test !== 'note')
  const sites = (
    diagnosis ? siteShares(airPathOf(file.vehicle.spec), diagnosis.ranking, findings, holdingStations(file)) : []
  )
    .filter((s) => s.probability > 0.01)
    .sort((a, b) => b.probability - a.probability)
    .slice(0, 6)
  const { missing } = useSettings()
  const [next] = sites.length
    ? nextPlaces(
        airPathOf(file.vehicle.spec),
        sites,
        findings.flatMap((x) =>
          x.outcome === 'unclear' ? [] : [{ test: x.test, station: x.station, found: x.outcome === 'fail' }],
        ),
        (t) => !missing.includes(testInfo(t).needs ?? ''),
      )
    : []
  const account = visitLedger(file)
  const ofAir = isAccountOfAir(file, diagnosis)
  const failed = placesToMend(file, diagnosis)
  const lead = diagnosis?.ranking.at(0)
  const seats = lead && lead.probability >= WORTH_SHOWING ? seatsHere(file, lead.fault) : []
  const most = sites[0]?.probability ?? 1
  // what was found and is not mended comes before the search for more
  const isUnmended = failed.some((station) => states.get(station) !== 'mended')
  // with a place in hand a test that hardly ever names another one waits until that is mended
  const toName = next && (!isUnmended || next.chance >= WORTH_A_TEST) && (
    <div className="mb-16" data-testid="next-place">
      <button
        type="button"
        className="act strong w-full justify-between"
        onClick={() => onOpen(next.station ?? sites[0].station)}
      >
        <span>
          {next.test === 'pinch' ? `Pinch or cap the ${stationInfo(next.station!).label}` : testInfo(next.test).label}
        </span>
        <span className="fig text-figure">{next.minutes} min</span>
      </button>
      <p className="text-small text-soft">
        Names the place soonest: {sayShare(next.chance)} % in {next.minutes} minutes.
      </p>
    </div>
  )
  return (
    <div className="trace-place pt-6 gap-32 grid grid-cols-[minmax(280px,0.8fr)_minmax(0,1.4fr)] narrow:grid-cols-1">
      <section>
        {lead && seats.length > 0 && (
          <>
            <h2 className="text-soft text-small">
              {faultOf(lead.fault).label}, {sayShare(lead.probability)} %; tap to look and test there
            </h2>
            <ul className="mb-14" data-part="seats">
              {seats.map((id) => (
                <li key={id}>
                  <button
                    className="min-h-tap border-b border-b-line w-full grid grid-cols-[40px_1fr_28px] items-center text-left"
                    type="button"
                    onClick={() => onOpen(id)}
                  >
                    <Spot state={states.get(id)} />
                    <span>{stationInfo(id).label}</span>
                    <ChevronRight size={26} aria-hidden />
                  </button>
                </li>
              ))}
            </ul>
          </>
        )}
        {(sites.length > 0 || !seats.length) && (
          <h2 className="text-soft text-small">
            where it may come in{ofAir ? '' : ', were it air'}; tap to test there
          </h2>
        )}
        <ol className="sites">
          {sites.map((s) => (
            <li key={s.station}>
              <button
                className="border-b border-b-line w-full min-h-tap grid grid-cols-[40px_128px_1fr_56px_28px] items-center"
                type="button"
                onClick={() => onOpen(s.station)}
              >
                <Spot state={states.get(s.station)} />
                <span>{stationInfo(s.station).label}</span>
                <span className="h-12 bg-ink min-w-2" style={{ width: `${(100 * s.probability) / most}%` }} />
                <span className="fig text-name text-right">{sayShare(s.probability)} %</span>
                <ChevronRight size={26} aria-hidden />
              </button>
            </li>
          ))}
          {!sites.length && <NoSites diagnosis={diagnosis} isSeated={seats.length > 0} onOpen={onOpen} />}
        </ol>
      </section>
      <section>
        {!isUnmended && toName}
        {account ? (
          <Account account={account} ofAir={ofAir} />
        ) : (
          <p className="max-w-340 border-l-6 border-l-line py-8 pl-12">{noAccount(file.vehicle.spec)}</p>
        )}
        {account && (
          <p className="text-small">
            {ofAir ? '' : 'If it is air, and not what leads by the readings: '}
            {account.now.atLeast ? (ofAir ? 'At least ' : 'at least ') : ''}
            {format('massFlow', account.now.gramsPerS.median)} come in unmeasured at idle,{' '}
            {account.now.sharePct.median.toFixed(0)} % of the air ({account.now.sharePct.low.toFixed(0)} to{' '}
            {account.now.sharePct.high.toFixed(0)} %).
          </p>
        )}
        {failed.map((station) => (
          <Mend key={station} file={file} station={station} shop={shop} />
        ))}
        {isUnmended && toName}
        {!failed.length && <p className="text-soft">Mark a station failed, and the ways to mend it stand here.</p>}
      </section>
    </div>
  )
}

/** A station's ring, as on the air line. */
const Spot = ({ state }: { state: StationState | undefined }) => (
  <svg width="34" height="34" aria-hidden="true">
    <Ring x={17} y={17} r={10} state={state ?? 'unseen'} />
  </svg>
)

/** Why no account of unmetered air stands here. */
function noAccount(v: Vehicle): string {
  if (v.metering === 'map')
    return 'No airflow sensor on this engine: a leak is metered. Its sign is the idle opening and the idle speed, not the trim.'
  if (hasTrims(v)) return 'The account of unmetered air opens with airflow and trims at idle.'
  return v.fuel === 'diesel'
    ? 'A diesel has no fuel trims: no account of unmetered air is kept of it.'
    : 'Nothing on this engine measures its air or corrects its fuel: a leak’s sign is low vacuum and the idle speed.'
}

/** Chance of naming a place from which a test is offered while another place waits to be mended. */
const WORTH_A_TEST = 0.1
/** Likelihood from which the place of what leads is shown. */
const WORTH_SHOWING = 0.3
/** Likelihood from which what lets air out under boost is looked for along the pipe. */
const WORTH_LOOKING = 0.1

/** Nothing lets air in: what may let it out is looked for instead. */
function NoSites({
  diagnosis,
  isSeated,
  onOpen,
}: {
  diagnosis?: Diagnosis
  isSeated: boolean
  onOpen: (id: StationId) => void
}) {
  const lost = diagnosis?.ranking.find((r) => r.fault === 'boost-leak')?.probability ?? 0
  if (lost < WORTH_LOOKING)
    return (
      <li className={isSeated ? 'text-soft' : ''}>
        No cause that lets air in is likely{isSeated ? '.' : ': nothing to look for along the pipe.'}
      </li>
    )
  const test = testInfo('boost-decay')
  return (
    <li>
      No cause that lets air in is likely. Under boost air is lost, {sayShare(lost)} % likely: between compressor and
      throttle.
      <button type="button" className="act strong mt-8 w-full justify-between" onClick={() => onOpen('boost-pipe')}>
        <span>{test.label}</span>
        <span className="fig text-figure">{test.minutes} min</span>
      </button>
    </li>
  )
}
