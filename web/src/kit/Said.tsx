import { Toast } from 'radix-ui'
import type { ReactNode } from 'react'

/** Something said over the bench until it is dealt with. */
export function Said({ children }: { children: ReactNode }) {
  return (
    <Toast.Provider duration={Infinity} label="said">
      <Toast.Root
        open
        data-testid="said"
        className="flex max-w-[92vw] items-center gap-16 bg-ink px-16 py-8 text-face [&_.act]:border-face [&_.progress]:w-160 [&_.progress]:invert"
      >
        {children}
      </Toast.Root>
      <Toast.Viewport className="fixed top-58 left-1/2 z-15 w-max max-w-[92vw] -translate-x-1/2 outline-none narrow:top-104" />
    </Toast.Provider>
  )
}
