import { useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { HOTKEYS } from '../kit/hotkeys.js'
import { useLater } from '../kit/useLater.js'

const sheet = () => import('./ShortcutSheet.js')

/** The first thing a key reaches: over the head of the page to the work itself. */
export function SkipLink() {
  const skip = (): void => {
    const main = document.querySelector('main')
    main?.setAttribute('tabindex', '-1')
    main?.focus()
  }
  return (
    <nav aria-label="this page">
      <button type="button" className="skip" onClick={skip}>
        to the work
      </button>
    </nav>
  )
}

/** The keys, on `?`. */
export function Shortcuts() {
  const [open, setOpen] = useState(false)
  const later = useLater(sheet, open)
  useHotkeys('?', () => setOpen(true), { ...HOTKEYS, useKey: true, preventDefault: true })
  return open && later ? <later.ShortcutSheet onOpenChange={setOpen} /> : null
}
