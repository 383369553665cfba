import { lazy, Suspense, type ReactNode } from 'react'
import { useSearchParams } from 'react-router'
import { hasTrims, type VisitFile } from '@uvula/core'
import { Views, type View as Named } from '../../kit/Views.js'
import { Waiting } from '../../parts/States.js'
import { Figures } from './Figures.js'

const GaugeBench = lazy(() => import('./GaugeBench.js').then((m) => ({ default: m.GaugeBench })))
const CylinderBench = lazy(() => import('./CylinderBench.js').then((m) => ({ default: m.CylinderBench })))
const PumpBench = lazy(() => import('./PumpBench.js').then((m) => ({ default: m.PumpBench })))
const TrimSheet = lazy(() => import('./TrimSheet.js').then((m) => ({ default: m.TrimSheet })))
const ThrottleBench = lazy(() => import('./ThrottleBench.js').then((m) => ({ default: m.ThrottleBench })))

type View = 'figures' | 'pump' | 'trims' | 'gauge' | 'cylinders' | 'throttles'

const later = (bench: ReactNode): ReactNode => <Suspense fallback={<Waiting what="the bench" />}>{bench}</Suspense>

/** What is measured: figures at their points, the vacuum gauge, the cylinders against each other, the throttles. */
export function Measure({ file }: { file: VisitFile }) {
  // in the address, so that a word elsewhere can lead to it and a reload stays
  const [params, setParams] = useSearchParams()
  const { spec } = file.vehicle
  const views: readonly Named<View>[] = [
    { value: 'figures', label: 'figures', body: <Figures file={file} /> },
    ...(hasTrims(spec)
      ? [{ value: 'trims' as const, label: 'trim sheet', body: later(<TrimSheet file={file} />) }]
      : []),
    // a diesel has no vacuum to gauge
    ...(spec.fuel === 'gasoline'
      ? [{ value: 'gauge' as const, label: 'vacuum gauge', body: later(<GaugeBench file={file} />) }]
      : []),
    { value: 'cylinders', label: 'cylinders', body: later(<CylinderBench file={file} />) },
    { value: 'pump', label: 'hand pump', body: later(<PumpBench file={file} />) },
    ...(spec.throttleBodies > 1 && spec.fuel === 'gasoline'
      ? [{ value: 'throttles' as const, label: 'throttles', body: later(<ThrottleBench file={file} />) }]
      : []),
  ]
  return (
    <div className="bench px-gap pt-0 pb-14 narrow:px-14 narrow:py-10">
      <Views
        label="what is measured"
        value={views.find((v) => v.value === params.get('view'))?.value ?? 'figures'}
        onChange={(view) => setParams(view === 'figures' ? {} : { view }, { replace: true })}
        views={views}
      />
    </div>
  )
}
