import { Close, Dialog } from '../kit/Dialog.js'

const KEYS: readonly [string, string][] = [
  ['?', 'this sheet'],
  ['Enter, ↓', 'keep the reading, next one'],
  ['↑', 'the reading before'],
  ['Esc', 'leave it as it was; close the station'],
  ['[  ]', 'stage before, stage after'],
  ['n', 'to what is to be done now'],
  ['Ctrl Z', 'take the last entry back'],
  ['m', 'mark this moment, while live data are recorded'],
  ['Tab', 'from target to target, along the air line too'],
]

/** The keys, as a sheet. */
export function ShortcutSheet({ onOpenChange }: { onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog open onOpenChange={onOpenChange} title="Keys">
      <dl>
        {KEYS.map(([k, what]) => (
          <div key={k} className="grid min-h-40 grid-cols-[130px_1fr] items-center">
            <dt className="fig text-name">{k}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <Close strong />
    </Dialog>
  )
}
