import { lazy, Suspense, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { HOTKEYS } from '../kit/hotkeys.js'

const ShortcutSheet = lazy(() => import('./ShortcutSheet.js').then((m) => ({ default: m.ShortcutSheet })))

/** The keys, on `?`; loaded when they are asked for. */
export function Shortcuts() {
  const [open, setOpen] = useState(false)
  useHotkeys('?', () => setOpen(true), { ...HOTKEYS, useKey: true, preventDefault: true })
  return <Suspense>{open && <ShortcutSheet onOpenChange={setOpen} />}</Suspense>
}
