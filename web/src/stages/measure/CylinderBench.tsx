import type { EChartsCoreOption } from 'echarts/core'
import { useCallback, useRef, useState } from 'react'
import {
  roundToFill,
  takenOf,
  vehicleAtPlace,
  type Balance,
  type Calibration,
  type VisitFile,
  type WaveTaken,
} from '@uvula/core'
import { scaleAxis } from '../../charts/base.js'
import { Chart } from '../../charts/Chart.js'
import { CHART_FIGURE, type ChartTokens } from '../../charts/tokens.js'
import { Choose } from '../../kit/Choose.js'
import { Working } from '../../kit/Working.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import { reader } from '../../workers/heart.js'
import { DropTest } from './DropTest.js'
import { Transducer, type Taken } from './Transducer.js'
import { KIND_WORDS } from './words.js'

/** Largest waveform taken [bytes]. */
const MOST_BYTES = 64 * 1024 * 1024

/** The cylinders against each other: by a pressure waveform, or by putting one out at a time. */
export function CylinderBench({ file }: { file: VisitFile }) {
  const { write, remove } = useWriter(file)
  const choose = useRef<HTMLInputElement>(null)
  const [side, setSide] = useState<WaveTaken['side']>('intake')
  const [going, setGoing] = useState<{ readonly name: string; readonly share: number; readonly stop: () => void }>()
  const [problem, setProblem] = useState<string>()
  const [calibration, setCalibration] = useState<Calibration>()
  const waves = takenOf(file.balances, 'wave')
  const shown = waves.at(-1)
  const take = async (f: Taken): Promise<void> => {
    if (f.size > MOST_BYTES)
      return setProblem(
        `${f.name} has ${(f.size / 1048576).toFixed(0)} MB; 64 MB are taken: record a minute, not more.`,
      )
    const by = reader()
    const tell = (share: number): void =>
      setGoing({ name: f.name, share, stop: () => (by.stop(), setGoing(undefined)) })
    tell(0)
    setProblem(undefined)
    try {
      const result = await by.balance(
        new Uint8Array(await f.arrayBuffer()),
        vehicleAtPlace(file),
        side,
        calibration,
        tell,
      )
      if (!result.ok) return setProblem(`${f.name}: ${result.error.message}`)
      write('balances', `${file.visit.id}:wave:${newId()}`, {
        visitId: file.visit.id,
        round: roundToFill(file),
        taken: { kind: 'wave', name: f.name.slice(0, 200), side, balance: result.value },
      })
    } finally {
      by.stop()
      setGoing(undefined)
    }
  }
  return (
    <div className="grid grid-cols-[minmax(0,1.2fr)_minmax(320px,1fr)] gap-gap py-8 narrow:grid-cols-1">
      <section>
        {shown ? (
          <Result taken={shown.taken} />
        ) : (
          <p className="max-w-540">
            A pressure transducer on the{' '}
            {file.vehicle.spec.plenum === 'individual' ? 'pipe that joins the runners' : 'plenum'} and a clamp on the
            plug lead or the injector’s wire of cylinder 1, five seconds at a steady idle. Two channels, WAV or CSV.
            Without the clamp something odd is seen, but not whose it is.
          </p>
        )}
        <div className="mt-8 flex flex-wrap items-center gap-8">
          <Choose
            label="taken at"
            look="box"
            className="flex gap-4"
            value={side}
            choices={[
              { value: 'intake', label: 'intake' },
              { value: 'exhaust', label: 'tailpipe' },
            ]}
            onChange={setSide}
          />
          <button type="button" className="act strong" onClick={() => choose.current?.click()}>
            {shown ? 'another waveform' : 'choose a waveform'}
          </button>
          {shown && (
            <button type="button" className="act" onClick={() => remove('balances', shown.id)}>
              leave this one out
            </button>
          )}
          <input
            ref={choose}
            type="file"
            accept=".wav,.csv,.txt"
            className="sr-only"
            aria-label="waveform file"
            tabIndex={-1}
            onChange={(e) => {
              const f = e.target.files?.[0]
              e.target.value = ''
              if (f) void take(f)
            }}
          />
        </div>
        <Transducer file={file} onCalibration={setCalibration} onTake={(f) => void take(f)} />
        {going && (
          <div className="mt-8 flex items-center gap-12">
            <Working label={`reading ${going.name}, ${Math.round(100 * going.share)} %`} className="w-240" />
            <button type="button" className="act" onClick={going.stop}>
              stop
            </button>
          </div>
        )}
        {problem && (
          <p className="wrong mt-8" role="alert">
            {problem}
          </p>
        )}
      </section>
      {file.vehicle.spec.fuel === 'diesel' ? (
        <p className="text-small text-soft">
          A diesel’s governor makes up at once for a cylinder that is held off: the speed tells nothing of it. What the
          controller gives each cylinder, by the scan tool, does.
        </p>
      ) : (
        <DropTest file={file} />
      )}
    </div>
  )
}

/** What the waveform says: the odd cylinder first, then every pull with its interval, then what limits it. */
function Result({ taken }: { taken: WaveTaken }) {
  const b = taken.balance
  const { odd } = b
  const name = odd?.cylinder
    ? `Cylinder ${odd.cylinder} draws less than the others`
    : odd?.pair
      ? `Cylinder ${odd.pair.join(' or ')} differs from the others`
      : odd
        ? 'One cylinder differs from the others'
        : 'No cylinder stands out'
  const kinds = odd?.kind.filter((k) => k.probability >= 0.2) ?? []
  return (
    <div data-odd={odd ? (odd.cylinder ?? 'unnamed') : 'none'}>
      <p className="name">{name}</p>
      <p className="mb-8 text-small">
        {taken.name}: {b.cycles} cycles at {b.rpm.median.toFixed(0)} rpm
        {odd ? `; chance ${odd.probability > 0.99 ? 'over 99' : (100 * odd.probability).toFixed(0)} %` : ''}
        {kinds.length
          ? `; ${kinds.map((k) => `${KIND_WORDS[k.id]} ${(100 * k.probability).toFixed(0)} %`).join(', ')}`
          : ''}
      </p>
      <PullChart balance={b} />
      {b.warnings.map((w) => (
        <p key={w.code} className="mt-4 border-l-6 border-l-line pl-10 text-small">
          {w.message}
        </p>
      ))}
    </div>
  )
}

function PullChart({ balance }: { balance: Balance }) {
  const option = useCallback((t: ChartTokens) => pullOption(t, balance), [balance])
  const label = (c: Balance['cylinders'][number]): string =>
    c.cylinder === null ? `place ${c.position}` : String(c.cylinder)
  return (
    <Chart
      label={`pull by cylinder: ${balance.cylinders.map((c) => `${label(c)} ${c.pullPct.median.toFixed(0)} %`).join('; ')}`}
      className="h-240 w-full max-w-540"
      option={option}
      table={{
        head: ['cylinder, in firing order', 'pull, % of the mean', 'low', 'high'],
        rows: balance.cylinders.map((c) => [
          label(c),
          Number(c.pullPct.median.toFixed(1)),
          Number(c.pullPct.low.toFixed(1)),
          Number(c.pullPct.high.toFixed(1)),
        ]),
      }}
    />
  )
}

/** A bar a cylinder in firing order, its interval as a line, the mean as the line across. */
function pullOption(t: ChartTokens, { cylinders, odd }: Balance): EChartsCoreOption {
  const named = cylinders.every((c) => c.cylinder !== null)
  const low = Math.min(60, ...cylinders.map((c) => c.pullPct.low - 5))
  const high = Math.max(120, ...cylinders.map((c) => c.pullPct.high + 5))
  return {
    grid: { left: 56, right: 16, top: 28, bottom: 44 },
    xAxis: {
      type: 'category',
      data: cylinders.map((c) => (named ? `cyl ${c.cylinder}` : `${c.position}`)),
      name: named ? 'in firing order' : 'places in the firing order, begun anywhere',
      nameLocation: 'middle',
      nameGap: 28,
      nameTextStyle: { color: t.soft, fontFamily: t.word },
      axisLine: { onZero: false, lineStyle: { color: t.ink, width: 1.5 } },
      axisTick: { show: false },
      axisLabel: { color: t.ink, fontFamily: t.fig, fontWeight: 600, fontSize: CHART_FIGURE },
    },
    yAxis: scaleAxis(t, 'y', {
      name: 'pull, % of the mean',
      min: Math.floor(low / 10) * 10,
      max: Math.ceil(high / 10) * 10,
    }),
    series: [
      {
        type: 'bar',
        barWidth: '46%',
        data: cylinders.map((c) => ({
          value: c.pullPct.median,
          itemStyle: { color: odd?.cylinder === c.cylinder && c.cylinder !== null ? t.ink : t.soft },
        })),
        markLine: {
          symbol: 'none',
          silent: true,
          label: { show: false },
          lineStyle: { color: t.ink, type: 'dashed', width: 1.5 },
          data: [{ yAxis: 100 }],
        },
      },
      {
        type: 'custom',
        silent: true,
        data: cylinders.map((c, i) => [i, c.pullPct.low, c.pullPct.median, c.pullPct.high]),
        encode: { x: 0, y: [1, 3] },
        renderItem: (_: unknown, api: { value: (i: number) => number; coord: (p: number[]) => number[] }) => {
          const [a, m, b] = [1, 2, 3].map((i) => api.coord([api.value(0), api.value(i)]))
          return {
            type: 'group',
            // inside the bar in the colour of the face, above it in ink
            children: [
              {
                type: 'line',
                shape: { x1: a[0], y1: a[1], x2: m[0], y2: m[1] },
                style: { stroke: t.face, lineWidth: 3 },
              },
              {
                type: 'line',
                shape: { x1: m[0], y1: m[1], x2: b[0], y2: b[1] },
                style: { stroke: t.ink, lineWidth: 3 },
              },
            ],
          }
        },
      },
    ],
  }
}
