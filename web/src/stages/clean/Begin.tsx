import { Toggle } from 'radix-ui'
import { useState } from 'react'
import {
  checkStep,
  escalation,
  mayTouch,
  PRODUCTS,
  stopOfCleaning,
  surfaceInfo,
  waysByHand,
  wayOn,
  type MethodId,
  type ProductId,
  type VisitFile,
} from '@uvula/core'
import { Ring } from '../../parts/Ring.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { newId } from '../../store/database.js'
import { useWriter } from '../../store/visit.js'
import type { Place } from './SurfaceList.js'

/** What may touch a surface, the weakest first, and how it is begun; what must not, with its reason. */
export function Begin({ file, place, again }: { file: VisitFile; place: Place; again: boolean }) {
  const { write } = useWriter(file)
  const spec = file.vehicle.spec
  const info = surfaceInfo(place.surface)
  const weakest = escalation(place.surface).filter((p) => p.id !== 'compressed-air')
  const [product, setProduct] = useState<ProductId>(weakest.at(0)?.id ?? 'soft-brush-cloth')
  const chosen = { ...place, product }
  const methods = waysByHand(place.surface, spec.throttle === 'electronic')
  const stop = stopOfCleaning(place.station, place.surface)
  const seen = stopSeen(file, stop)
  const [against] = checkStep({ ...chosen, method: methods[0].id }, spec)
  const may = mayTouch(product, place.surface)
  const begin = (method: MethodId): void =>
    write('steps', `${file.visit.id}:step:${newId()}`, {
      visitId: file.visit.id,
      ...chosen,
      method,
      passed: false,
      more: { stages: [] },
    })
  const rest = PRODUCTS.filter((p) => !p.fed && !mayTouch(p.id, place.surface).ok)
  return (
    <div className="mb-14">
      <h2 className="text-name font-semibold">
        {info.label}
        {again ? ', once more' : ''}
      </h2>
      <p className="text-small">Ends when: {info.doneWhen}.</p>
      {against ? (
        <p className="wrong mt-8" role="alert">
          {against.message}
        </p>
      ) : (
        <>
          <Stop file={file} id={stop} />
          {info.inPlace?.when && (
            <p className="mt-8 border-l-6 border-l-ink pl-10">
              {cap(info.inPlace.label)} {info.inPlace.when}; else off the car.
            </p>
          )}
          <div className="my-8 flex flex-wrap gap-8">
            {methods.map((m) => (
              <button key={m.id} type="button" className="act strong" disabled={!seen} onClick={() => begin(m.id)}>
                begin: {wayOn(m.id, place.surface)}
              </button>
            ))}
          </div>
          {may.ok && may.remark && <p className="border-l-6 border-l-ink pl-10">{cap(may.remark)}.</p>}
        </>
      )}
      <h3 className="mt-8 text-small text-soft">with, the weakest first</h3>
      <Products
        surface={place.surface}
        products={escalation(place.surface).map((p) => p.id)}
        chosen={product}
        onChoose={setProduct}
      />
      <h3 className="mt-8 text-small text-soft">not these: tap one for the reason</h3>
      <Products surface={place.surface} products={rest.map((p) => p.id)} chosen={product} onChoose={setProduct} />
    </div>
  )
}

function Products({
  surface,
  products,
  chosen,
  onChoose,
}: {
  surface: Place['surface']
  products: readonly ProductId[]
  chosen: ProductId
  onChoose: (p: ProductId) => void
}) {
  return (
    <div className="mt-4 grid grid-cols-3 gap-x-8 gap-y-4 narrow:grid-cols-2">
      {products.map((id) => {
        const p = PRODUCTS.find((x) => x.id === id)!
        const may = mayTouch(id, surface)
        const word = may.ok ? 'may' : may.never ? 'never' : 'not known'
        return (
          <Toggle.Root
            key={id}
            className="flex min-h-tap items-center gap-6 border border-line px-6 text-left text-small leading-tight data-[state=on]:bg-face-2 data-[state=on]:shadow-[inset_0_-5px_0_var(--color-ink)]"
            aria-label={`${p.label} on ${surface.replace(/-/g, ' ')}: ${word}`}
            pressed={chosen === id}
            onPressedChange={() => onChoose(id)}
          >
            <svg width="26" height="26" aria-hidden="true" className="flex-none">
              <Ring x={13} y={13} r={8} state={may.ok ? 'sound' : may.never ? 'failed' : 'unseen'} />
            </svg>
            <span>
              {p.label}
              {word === 'not known' && <span className="block text-soft">only by its label</span>}
            </span>
          </Toggle.Root>
        )
      })}
    </div>
  )
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
