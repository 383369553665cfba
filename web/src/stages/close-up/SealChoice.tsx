import type { ItemMore, ItemRecord } from '@uvula/core'
import { Choose } from '../../kit/Choose.js'

/** How a gasket or ring goes back, what the maker says of it, and what is put on it. */
export function SealChoice({ item, onMore }: { item: ItemRecord; onMore: (part: Partial<ItemMore>) => void }) {
  const m = item.more
  return (
    <div className="flex flex-wrap gap-8" data-seal={item.name}>
      <Choose
        label={`${item.name} goes back`}
        look="box"
        className="flex gap-4"
        value={m?.seal}
        choices={[
          { value: 'new', label: 'new' },
          { value: 'reused', label: 'used again' },
          { value: 'doubtful', label: 'doubtful' },
        ]}
        onChange={(seal) => onMore({ seal })}
      />
      <Choose
        label="the maker says"
        look="box"
        className="flex gap-4"
        value={m?.makerSays}
        choices={[
          { value: 'renew', label: 'maker: renew' },
          { value: 'may be reused', label: 'maker: may be reused' },
        ]}
        onChange={(makerSays) => onMore({ makerSays })}
      />
      <Choose
        label="put on it"
        look="box"
        className="flex gap-4"
        value={m?.sealant}
        choices={[
          { value: 'none', label: 'dry' },
          { value: 'grease', label: 'grease' },
          { value: 'sealant', label: 'sealant' },
        ]}
        onChange={(sealant) => onMore({ sealant })}
      />
      {m?.sealant === 'sealant' && (
        <p className="basis-full border-l-6 border-l-ink pl-10 text-small">
          What squeezes inward is drawn in, and silicone films the airflow sensor and poisons oxygen sensors. To hold a
          ring, assembly grease does.
        </p>
      )}
    </div>
  )
}
