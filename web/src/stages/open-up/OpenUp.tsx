import { useState } from 'react'
import { jointOpenedMost, type StationId, type VisitFile } from '@uvula/core'
import { Views } from '../../kit/Views.js'
import { Counts } from './Counts.js'
import { Inventory } from './Inventory.js'
import { Joint, StopsHere } from './Joint.js'
import { useItems } from './useItems.js'
import { WayIn } from './WayIn.js'

type View = 'parts' | 'way' | 'counted'

/** What comes off, with each fastener in its place; what lies in the way; what goes in. */
export function OpenUp({ file }: { file: VisitFile }) {
  const { items, change, add } = useItems(file)
  const [station, setStation] = useState<StationId>(
    items.find((i) => i.state !== 'on')?.station ?? items[0]?.station ?? jointOpenedMost(file.vehicle.spec),
  )
  const [view, setView] = useState<View>('parts')
  const mine = items.filter((i) => i.station === station)
  return (
    <div className="bench px-gap py-8 gap-28 grid grid-cols-[minmax(0,1fr)_minmax(300px,1.15fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <Joint file={file} station={station} items={mine} closing={false} onStation={setStation} onChange={change} />
      <Views
        label="opening up"
        value={view}
        onChange={setView}
        views={[
          {
            value: 'parts',
            label: 'what comes off',
            body: (
              <>
                <StopsHere file={file} station={station} items={mine} />
                <Inventory
                  file={file}
                  station={station}
                  items={mine}
                  onAdd={(p, missing) => add(station, p, missing)}
                  onChange={change}
                />
              </>
            ),
          },
          { value: 'way', label: 'the way in', body: <WayIn file={file} station={station} onStation={setStation} /> },
          { value: 'counted', label: 'counted in', body: <Counts file={file} station={station} /> },
        ]}
      />
    </div>
  )
}
