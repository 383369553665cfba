import { live, type ItemPreset, type ItemRecord, type StationId, type VisitFile } from '@uvula/core'
import { newId } from '../../store/database.js'
import { ownFields, useWriter } from '../../store/visit.js'

/** Parts of a visit, and how they are written. */
export function useItems(file: VisitFile): {
  readonly items: readonly ItemRecord[]
  readonly change: (i: ItemRecord, part: Partial<ItemRecord>) => void
  readonly add: (station: StationId, p: ItemPreset, missing?: boolean) => void
} {
  const { write } = useWriter(file)
  return {
    items: live(file.items),
    change: (i, part) => write('items', i.id, { ...ownFields(i), ...part }),
    add: (station, p, missing = false) => {
      const piece = missing
        ? ({ state: 'on', arrival: 'missing' } as const)
        : ({ state: 'off', arrival: 'present' } as const)
      write('items', `${file.visit.id}:item:${newId()}`, {
        visitId: file.visit.id,
        station,
        name: p.name,
        count: p.count,
        ...(p.drive ? { drive: p.drive } : {}),
        ...piece,
        more: {
          kind: p.kind,
          pieces: Array.from({ length: p.count }, () => piece),
          ...(p.carries ? { carries: p.carries } : {}),
          ...(p.shape ? { shape: p.shape } : {}),
        },
      })
    },
  }
}
