import { lazy, Suspense, useState, type ReactNode } from 'react'
import type { VisitFile } from '@uvula/core'
import { Views } from '../../kit/Views.js'
import { Waiting } from '../../parts/States.js'
import { Figures } from './Figures.js'

const GaugeBench = lazy(() => import('./GaugeBench.js').then((m) => ({ default: m.GaugeBench })))
const CylinderBench = lazy(() => import('./CylinderBench.js').then((m) => ({ default: m.CylinderBench })))
const ThrottleBench = lazy(() => import('./ThrottleBench.js').then((m) => ({ default: m.ThrottleBench })))

type View = 'figures' | 'gauge' | 'cylinders' | 'throttles'

const later = (bench: ReactNode): ReactNode => <Suspense fallback={<Waiting what="the bench" />}>{bench}</Suspense>

/** What is measured: figures at their points, the vacuum gauge, the cylinders against each other, the throttles. */
export function Measure({ file }: { file: VisitFile }) {
  const [view, setView] = useState<View>('figures')
  return (
    <div className="bench px-gap pt-0 pb-14 narrow:px-14 narrow:py-10">
      <Views
        label="what is measured"
        value={view}
        onChange={setView}
        views={[
          { value: 'figures', label: 'figures', body: <Figures file={file} /> },
          { value: 'gauge', label: 'vacuum gauge', body: later(<GaugeBench file={file} />) },
          { value: 'cylinders', label: 'cylinders', body: later(<CylinderBench file={file} />) },
          ...(file.vehicle.spec.throttleBodies > 1
            ? [{ value: 'throttles' as const, label: 'throttles', body: later(<ThrottleBench file={file} />) }]
            : []),
        ]}
      />
    </div>
  )
}
