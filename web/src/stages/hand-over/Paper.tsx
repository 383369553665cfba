import {
  figureText,
  changesTitle,
  idleTitle,
  placeOfChange,
  proofFigure,
  stationInfo,
  type PhotoRecord,
  pictureBand,
  type Picture,
  type Sheet,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { sayDay, sayTime } from '../../words/format.js'

/** The two pages of a sheet: the customer's, and behind it the technician's. */
export function Paper({
  sheet,
  shop,
  number,
  issuedAt,
  photos,
}: {
  sheet: Sheet
  shop: Shop
  number?: number
  issuedAt?: string
  /** Behind the technician's page. */
  photos: readonly PhotoRecord[]
}) {
  const name = number ? `sheet ${number}, ${sayDay(issuedAt!)}` : 'not issued yet'
  return (
    <article className="grid gap-20 print:block" aria-label="sheet">
      <CustomerPage sheet={sheet} shop={shop} name={name} />
      <TechnicianPage sheet={sheet} shop={shop} name={name} photos={photos} />
    </article>
  )
}

const PAGE = 'px-26 py-18 border-2 border-ink max-w-820 narrow:px-14 narrow:py-12 print:border-0 print:max-w-[none]'

function CustomerPage({ sheet: s, shop, name }: { sheet: Sheet; shop: Shop; name: string }) {
  return (
    <section className={PAGE} aria-label="customer’s page">
      <header className="flex justify-between">
        <span>{shop.name}</span>
        <span>{name}</span>
      </header>
      <h2 className="text-figure font-semibold leading-tight">{s.title}</h2>
      <p className="text-small">
        {[s.plate, s.customer, s.odometerKm ? `${s.odometerKm.toLocaleString('en')} km` : '']
          .filter(Boolean)
          .join(' · ')}
      </p>
      <p className="mx-0 my-10 text-lead leading-normal">{s.plain}</p>
      {s.picture && <PictureScale picture={s.picture} />}
      <List title="done" lines={s.done} />
      <List title="left" lines={s.left} />
      <List title="when to come back" lines={s.advised} />
      <List title="what a decarbonizing service could bring" lines={s.gain ?? []} />
      <List title="not bought" lines={s.avoided ?? []} />
      <Price sheet={s} shop={shop} />
    </section>
  )
}

function Price({ sheet: s, shop }: { sheet: Sheet; shop: Shop }) {
  const tax = s.price && s.price.tax > 0 ? ` · tax ${s.price.taxPct} % ${s.price.tax.toFixed(2)}` : ''
  const agreed = s.price?.agreed
  return (
    <footer className="pt-6 mt-10 border-t-2 border-t-ink">
      <p className="fig text-right text-name">
        labour {s.labourMinutes} min {s.labourPrice.toFixed(2)} · parts {s.partsPrice.toFixed(2)}
        {tax} · together {(s.price?.total ?? s.labourPrice + s.partsPrice).toFixed(2)} {shop.currency}
      </p>
      {agreed && (
        <p className="text-right text-small">
          agreed to by {agreed.by}, {agreed.how}, {sayDay(agreed.at)}: {agreed.total.toFixed(2)} {shop.currency}
        </p>
      )}
    </footer>
  )
}

function TechnicianPage({
  sheet: s,
  shop,
  name,
  photos,
}: {
  sheet: Sheet
  shop: Shop
  name: string
  photos: readonly PhotoRecord[]
}) {
  const banks = s.changes.some((c) => c.label.includes('bank 2'))
  const t = s.technical
  const leaves = (s.measured ?? 'since') === 'since'
  return (
    <section className={`${PAGE} print:break-before-page`} aria-label="technician’s page">
      <header className="flex justify-between">
        <span>{shop.name}, for the technician</span>
        <span>{name}</span>
      </header>
      <p className="mt-6">
        <b>{s.title}</b> {[s.plate, s.engine, s.place].filter(Boolean).join(' · ')}
      </p>
      <List title="came with" lines={[s.complaint, ...(s.codes ?? [])].filter(Boolean)} />
      <List title="found" lines={s.found} />
      <List title={idleTitle(s)} lines={s.judged ?? []} />
      {s.changes.length > 0 && (
        <table className="mt-8 w-full border-collapse">
          <caption className="text-left text-soft text-small">{changesTitle(s)}</caption>
          <tbody>
            {s.changes.map((c) => (
              <tr key={`${c.kind}${c.rpm}${c.label}`}>
                <th className={`${CELL} text-left [font-weight:inherit]`} scope="row">
                  {[banks ? c.label : c.label.replace(', bank 1', ''), placeOfChange(c)].filter(Boolean).join(', ')}
                </th>
                <td className={`${CELL} ${NUMBER}`}>{proofFigure(c.before, c.unit)}</td>
                <td className={`${CELL} ${NUMBER}`}>{proofFigure(c.after, c.unit)}</td>
                <td className={CELL}>{c.unit}</td>
                <td className={CELL}>{c.verdict}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <List title="all points together" lines={s.proved ?? []} />
      {t && (
        <>
          {t.readings.length > 0 && (
            <table className="mt-8 w-full border-collapse">
              <caption className="text-left text-soft text-small">readings</caption>
              <thead>
                <tr className="text-soft text-small">
                  <th className={`${CELL} text-left`}>point, figure</th>
                  {t.rounds.map((r) => (
                    <th key={r} className={`${CELL} text-right`}>
                      {r}
                    </th>
                  ))}
                  <th className={`${CELL} text-left`}>unit</th>
                </tr>
              </thead>
              <tbody>
                {t.readings.map((r) => (
                  <tr key={r.point + r.label}>
                    <th className={`${CELL} text-left [font-weight:inherit]`} scope="row">
                      {r.point}: {r.label}
                    </th>
                    {r.values.map((x, i) => (
                      <td key={i} className={`${CELL} ${NUMBER}`}>
                        {x === null ? '–' : proofFigure(x, r.unit)}
                      </td>
                    ))}
                    <td className={CELL}>{r.unit}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {t.causes.length > 0 && (
            <table className="mt-8 w-full border-collapse">
              <caption className="text-left text-soft text-small">
                {leaves ? 'causes, of 100: as it came, as it leaves' : 'causes, of 100'}
              </caption>
              <tbody>
                {t.causes.map((c) => (
                  <tr key={c.label}>
                    <th className={`${CELL} text-left [font-weight:inherit]`} scope="row">
                      {c.label}
                    </th>
                    <td className={`${CELL} ${NUMBER}`}>{(100 * c.before).toFixed(0)}</td>
                    {leaves && <td className={`${CELL} ${NUMBER}`}>{(100 * c.after).toFixed(0)}</td>}
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <List title="tests" lines={t.tests} />
          <List title="account of air" lines={t.account} />
          <List title="road test" lines={t.road ?? []} />
          <List title="doses" lines={t.doses} />
          <List title="fasteners that went back" lines={t.torques} />
          <List title="photos in the visit file" lines={t.photos} />
          <Photos photos={photos} />
          <List title="entered by" lines={t.hands.length ? [t.hands.join(', ')] : []} />
        </>
      )}
    </section>
  )
}

/** Photos as they were taken, each with its place; on paper too, two beside one another. */
function Photos({ photos }: { photos: readonly PhotoRecord[] }) {
  const kept = photos.filter((p) => p.receivedAt)
  if (!kept.length) return null
  return (
    <div className="mt-8 grid grid-cols-2 gap-10 narrow:grid-cols-1">
      {kept.map((p) => (
        <figure key={p.id} className="break-inside-avoid">
          <img
            className="max-h-[280px] w-full object-contain"
            src={`/api/photos/${encodeURIComponent(p.id)}/picture`}
            alt={`${stationInfo(p.station).label}, ${sayDay(p.at)}`}
          />
          <figcaption className="text-small text-soft">
            {stationInfo(p.station).label}, {sayDay(p.at)} {sayTime(p.at)}
          </figcaption>
        </figure>
      ))}
    </div>
  )
}

const CELL = 'pr-8 pl-0 py-2 border-t border-t-line'
const NUMBER = 'fig text-right text-lead'

/** One figure as it came and as it leaves, on a scale with the band where it belongs. */
function PictureScale({ picture: p }: { picture: Picture }) {
  const b = pictureBand(p)
  const marks = [p.before, p.after, ...(b ? [b.low, b.high] : [])]
  const [least, most] = [Math.min(...marks), Math.max(...marks)]
  const room = 0.12 * (most - least || 1)
  const at = (x: number): string => `${((100 * (x - least + room)) / (most - least + 2 * room)).toFixed(2)}%`
  const say = (x: number): string => figureText(x, p.decimals)
  // words of two marks that lie close go to their outer sides
  const [left, right] = p.before <= p.after ? ['before', 'after'] : ['after', 'before']
  const side = (which: string): string =>
    which === left ? '-translate-x-full pr-6 text-right' : which === right ? 'pl-10' : ''
  return (
    <figure
      className="my-14"
      aria-label={`${p.label}: ${say(p.before)} before, ${say(p.after)} after${b ? `, ${say(b.low)} to ${say(b.high)} belongs` : ''}`}
    >
      <figcaption className="text-small text-soft">
        {p.label}, {p.unit}
      </figcaption>
      <div className="relative mx-90 mt-4 h-56 border-b-3 border-ink narrow:mx-60">
        {b && (
          <span
            className="absolute bottom-0 h-26 bg-air [print-color-adjust:exact]"
            style={{ left: at(b.low), width: `calc(${at(b.high)} - ${at(b.low)})` }}
          />
        )}
        {(
          [
            ['before', p.before],
            ['after', p.after],
          ] as const
        ).map(([which, x]) => (
          <span key={which} className="absolute bottom-0" style={{ left: at(x) }}>
            <span
              className={`absolute bottom-0 h-40 ${which === 'after' ? 'w-6 bg-ink' : 'w-0 border-l-3 border-dashed border-ink'}`}
            />
            <span className={`absolute bottom-6 whitespace-nowrap leading-tight ${side(which)}`}>
              <b className="fig text-figure">{say(x)}</b>
              <br />
              <span className="text-small">{which}</span>
            </span>
          </span>
        ))}
      </div>
      {b && (
        <p className="text-center text-small text-soft">
          {say(b.low)} to {say(b.high)} belongs
        </p>
      )}
    </figure>
  )
}

function List({ title, lines }: { title: string; lines: readonly string[] }) {
  if (!lines.length) return null
  return (
    <section className="mt-6">
      <h3 className="text-soft text-small">{title}</h3>
      {lines.map((l) => (
        <p key={l}>{l}</p>
      ))}
    </section>
  )
}
