import { useState } from 'react'
import { proceduresFor, settledOf, taughtRuns, type VisitFile } from '@uvula/core'
import { Views } from '../../kit/Views.js'
import { Settle } from './Settle.js'
import { Teach } from './Teach.js'

/** Teaching the idle: first whether it is needed, then the steps with their times, attempts judged in tenths. */
export function Learn({ file }: { file: VisitFile }) {
  const settled = settledOf(file)
  const decided = settled !== undefined && settled.state !== 'too-short' && settled.state !== 'moving'
  const [view, setView] = useState<'settle' | 'teach'>(taughtRuns(file).length || decided ? 'teach' : 'settle')
  if (!proceduresFor(file.vehicle.spec).length)
    return (
      <p className="bench px-gap pt-40 pb-14 max-w-640 text-lead narrow:px-14">
        Nothing to teach: this engine has no controller that learns. Its idle is set by the stop screw, with the
        mixture.
      </p>
    )
  return (
    <div className="bench px-gap py-8 narrow:px-14">
      <Views
        label="learn"
        value={view}
        onChange={setView}
        views={[
          {
            value: 'settle',
            label: 'settle and decide',
            body: <Settle file={file} onTeach={() => setView('teach')} />,
          },
          { value: 'teach', label: 'teach', body: <Teach file={file} /> },
        ]}
      />
    </div>
  )
}
