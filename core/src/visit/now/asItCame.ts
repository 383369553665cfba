import { fitsNothing, SURE_ENOUGH, testInfo, type Ranked } from '../../diagnosis/index.js'
import { lookItemsOf, stationInfo } from '../../engine/index.js'
import { batterySaid } from '../battery.js'
import { benchOfCause } from '../benches.js'
import { placeOfFind } from '../findPlace.js'
import { outsideOf } from '../judged.js'
import { live, type VisitFile } from '../records.js'
import { isAnsweredAt } from '../remedies.js'
import { cylinderUnlike, throttlesUnlike } from '../taken.js'
import { andList, line } from '../words.js'
import { act, likely, minutesSaid, nextTestAct, nextTitles, type NowAct, type Rule, type Situation } from './act.js'
import { actOfCause, answered, stageOfAct } from './causeAct.js'
import { cannotBe, heightFirst } from './finds.js'

/** From this probability of nothing being wrong a car counts as sound here [–]. */
const SOUND = 0.6
/** A running engine below the first lives on its battery, above the second it is overcharged [V]; ours. */
const SUPPLY_V = { low: 12.2, high: 15.5 }

const leadOf = ({ d }: Situation): Ranked | undefined => d?.ranking.at(0)
const isSound = (s: Situation): boolean => {
  const lead = leadOf(s)
  return lead?.fault === 'none' && lead.probability > SOUND
}
/** Whether a test is named that could still change what is done. */
const isWorthATest = (s: Situation): boolean =>
  s.d?.nextTests[0] !== undefined && (leadOf(s)?.probability ?? 0) < SURE_ENOUGH

const walk: Rule = ({ f, d }) => {
  const judged = new Set(
    live(f.findings)
      .filter((x) => x.test === 'look')
      .map((x) => x.item),
  ).size
  return judged < lookItemsOf(f.vehicle.spec).length
    ? act(
        'walk',
        'look',
        judged ? 'Go on along the pipe' : 'Walk the pipe',
        'Free checks first: hoses, clamps and caps cost minutes.',
        nextTitles(d),
      )
    : undefined
}

const balance: Rule = ({ f, d }) => {
  const unlike = throttlesUnlike(f.balances)
  return unlike ? act('balance', 'measure', 'Balance the throttles', unlike, nextTitles(d)) : undefined
}

const cylinders: Rule = (s) =>
  isSound(s) && cylinderUnlike(s.f.balances)
    ? act(
        'cylinders',
        'measure',
        'See the cylinders',
        'No cause fits the readings, though one cylinder differs from the others.',
        ['Print the sheet', ...nextTitles(s.d)],
      )
    : undefined

/** What of the supply is no matter of the intake, and moves everything that is read or taught. */
function supplyFault(f: VisitFile): string | undefined {
  const battery = batterySaid(f)
  if (battery.found) return battery.said
  const read = outsideOf(f).find((j) => j.channel === 'battery_v')
  if (!read || (read.value >= SUPPLY_V.low && read.value <= SUPPLY_V.high)) return undefined
  return `${line(`${read.label} ${read.words}`)} ${read.value < SUPPLY_V.low ? 'The engine runs on its battery' : 'It is overcharged'}: idle, sensors and whatever is taught hang on it.`
}

const supply: Rule = ({ f, d }) => {
  const fault = supplyFault(f)
  return fault ? act('supply', 'look', 'See to the supply first', fault, nextTitles(d)) : undefined
}

const leftAsAgreed: Rule = (s) => {
  const lead = leadOf(s)
  const left = live(s.f.repairs).filter(
    (r) => r.kind === 'leave' && lead && isAnsweredAt(r.station, lead.fault, s.f.vehicle.spec),
  )
  return left.length
    ? act(
        'sheet',
        'hand-over',
        'Print the sheet',
        `Left as it is, as agreed: ${andList([...new Set(left.map((r) => stationInfo(r.station).label))])}.`,
        nextTitles(s.d),
      )
    : undefined
}

/** Codes that it came with and that stand, where nothing that was measured explains them. */
function codesUntold(f: VisitFile): string {
  const codes = [...new Set(live(f.codes).flatMap((c) => (c.when === 'before' && !c.cleared ? [c.code] : [])))]
  const s = codes.length > 1
  return codes.length ? ` Code${s ? 's' : ''} ${andList(codes)} ${s ? 'are' : 'is'} not explained by it.` : ''
}

/** Why nothing is to be mended, without claiming more than was measured. */
function soundWhy(f: VisitFile): string {
  const out = outsideOf(f)
  return out.length
    ? `No cause fits the readings, though ${out[0].label} ${out[0].words}.`
    : `Everything measured stands in its band: nothing in it asks for work on the intake.${codesUntold(f)}`
}

/** Somebody complains, or a figure stands outside its band: that is worth a test as long as the stop rule says so. */
const nothingWrong: Rule = (s) => {
  const isUnexplained = s.f.visit.intent === 'complaint' || outsideOf(s.f).length > 0
  return isSound(s) && !(isWorthATest(s) && isUnexplained && s.d?.stop.verdict === 'test')
    ? act('sheet', 'hand-over', 'Print the sheet', soundWhy(s.f))
    : undefined
}

const fitsNone: Rule = ({ d }) =>
  d && fitsNothing(d) && !d.nextTests[0]
    ? act('undecided', 'measure', 'Read it once more', d.stop.because, ['Print the sheet'])
    : undefined

const readMore: Rule = (s) => {
  const missing = s.d?.basis.missing
  return isWorthATest(s) && missing?.isAtHand && missing.bits > s.d!.nextTests[0].bits
    ? act(
        'read-more',
        'measure',
        `Read ${missing.label}`,
        'The scan tool says it in a moment, and it would tell more than any test.',
        nextTitles(s.d),
      )
    : undefined
}

/** The next test; where something stands out, that is what it is for, and how it is done stands at its bench. */
const test: Rule = (s) => {
  const { f, d } = s
  if (!d || !isWorthATest(s)) return undefined
  const { how, minutes } = testInfo(d.nextTests[0].test)
  const takes = minutesSaid(minutes)
  const why = fitsNothing(d)
    ? `${d.stop.because} ${takes}`
    : isSound(s) && outsideOf(f).length
      ? `${soundWhy(f)} ${takes}`
      : `${takes} ${how}`
  return nextTestAct(s, why, isSound(s) ? ['Print the sheet'] : [])
}

/** Why the sheet is next where no test is left and no cause leads: what tests found all the same is not forgotten. */
function nothingMadeOut(f: VisitFile, none: Ranked): string {
  const found = [
    ...new Set(
      live(f.findings).flatMap((x) => (x.outcome === 'fail' && !placeOfFind(x) ? [testInfo(x.test).label] : [])),
    ),
  ]
  return found.length ? `${andList(found)} found something; which cause it is has not been made out.` : none.sentence
}

function whatLeads(s: Situation): NowAct {
  const { f, d } = s
  const lead = leadOf(s)
  if (!lead)
    return act(
      'undecided',
      'trace',
      'See what the readings say',
      'Measured and looked at: the causes are ranked.',
      nextTitles(d),
    )
  // no test is left, and nothing stands out: that is what the sheet says
  if (lead.fault === 'none') return act('sheet', 'hand-over', 'Print the sheet', nothingMadeOut(f, lead))
  const title = actOfCause(f, lead.fault)
  return act(
    'cause',
    stageOfAct(lead.fault, title),
    title,
    `${likely(lead)}${answered(f, lead.fault)}`,
    nextTitles(d),
    benchOfCause(f, lead.fault),
  )
}

/** Nothing has been done yet. */
export const AS_IT_CAME: readonly Rule[] = [
  heightFirst,
  walk,
  balance,
  cylinders,
  supply,
  ({ d }) => cannotBe(d),
  leftAsAgreed,
  nothingWrong,
  fitsNone,
  readMore,
  test,
  whatLeads,
]
