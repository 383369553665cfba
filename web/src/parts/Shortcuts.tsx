import { useEffect, useRef } from 'react'

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

/** The keys, on `?`. */
export function Shortcuts() {
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      const typing = e.target instanceof HTMLElement && ['INPUT', 'TEXTAREA'].includes(e.target.tagName)
      if (e.key === '?' && !typing) dialog.current?.showModal()
    }
    addEventListener('keydown', onKey)
    return () => removeEventListener('keydown', onKey)
  }, [])
  return (
    <dialog ref={dialog} aria-label="keys">
      <h2 className="name">Keys</h2>
      <dl>
        {KEYS.map(([k, what]) => (
          <div key={k} className="grid min-h-40 grid-cols-[130px_1fr] items-center">
            <dt className="fig text-name">{k}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <button type="button" className="act strong" onClick={() => dialog.current?.close()}>
        close
      </button>
    </dialog>
  )
}
