import { Tabs } from 'radix-ui'
import type { ReactNode } from 'react'

export interface View<T extends string> {
  readonly value: T
  readonly label: string
  readonly body: ReactNode
}

const ROW = 'flex items-center gap-20 narrow:flex-wrap narrow:gap-x-14 narrow:gap-y-0'

/** Several views of one bench, one at a time; arrows go from name to name. */
export function Views<T extends string>({
  label,
  value,
  views,
  onChange,
  beside,
}: {
  label: string
  value: T
  views: readonly View<T>[]
  onChange: (value: T) => void
  /** What stands behind the names on their line. */
  beside?: ReactNode
}) {
  return (
    <Tabs.Root value={value} onValueChange={(x) => onChange(x as T)}>
      <div className={`print:hidden ${ROW}`}>
        <Tabs.List aria-label={label} className={ROW}>
          {views.map((v) => (
            <Tabs.Trigger
              key={v.value}
              value={v.value}
              className="min-w-tap border-b-4 border-b-transparent whitespace-nowrap text-soft data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink narrow:text-label"
            >
              {v.label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {beside}
      </div>
      {views.map((v) => (
        <Tabs.Content key={v.value} value={v.value} className="focus:outline-none">
          {v.body}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  )
}
