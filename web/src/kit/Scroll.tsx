import { ScrollArea } from 'radix-ui'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { nonce } from './nonce.js'

/**
 * A place that scrolls and shows it: a scale along its edge says how much there is, and a shade at the foot that it
 * goes on. Nothing ends unseen behind an edge.
 */
export function Scroll({
  label,
  children,
  className = '',
}: {
  label?: string
  children: ReactNode
  className?: string
}) {
  const viewport = useRef<HTMLDivElement>(null)
  const [more, setMore] = useState(false)
  useEffect(() => {
    const el = viewport.current!
    const look = (): void => setMore(el.scrollHeight - el.clientHeight - el.scrollTop > 8)
    const fit = new ResizeObserver(look)
    fit.observe(el)
    if (el.firstElementChild) fit.observe(el.firstElementChild)
    el.addEventListener('scroll', look, { passive: true })
    look()
    return () => {
      fit.disconnect()
      el.removeEventListener('scroll', look)
    }
  }, [])
  return (
    <ScrollArea.Root type="auto" className={`relative min-h-0 ${className}`} data-more={more}>
      <ScrollArea.Viewport
        ref={viewport}
        nonce={nonce}
        tabIndex={more ? 0 : undefined}
        role={label ? 'region' : undefined}
        aria-label={label}
        className="h-full w-full [&>div]:!block"
      >
        {children}
      </ScrollArea.Viewport>
      <ScrollArea.Scrollbar
        orientation="vertical"
        className="z-2 w-14 touch-none border-l border-l-line bg-face p-2 select-none print:hidden"
      >
        <ScrollArea.Thumb className="bg-ink" />
      </ScrollArea.Scrollbar>
      {more && (
        <p
          aria-hidden
          className="pointer-events-none absolute right-14 bottom-0 left-0 z-1 flex h-40 items-end justify-center bg-linear-to-t from-face to-transparent text-small text-ink print:hidden"
        >
          <span className="bg-face px-10">more below</span>
        </p>
      )}
    </ScrollArea.Root>
  )
}
