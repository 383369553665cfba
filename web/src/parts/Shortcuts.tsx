import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { HOTKEYS } from '../kit/hotkeys.js'
import { useLater } from '../kit/useLater.js'

const sheet = () => import('./ShortcutSheet.js')

/** The keys, on `?`. */
export function Shortcuts() {
  const [open, setOpen] = useState(false)
  const later = useLater(sheet, open)
  useHotkeys('?', () => setOpen(true), { ...HOTKEYS, useKey: true, preventDefault: true })
  return open && later ? <later.ShortcutSheet onOpenChange={setOpen} /> : null
}
