import { useEffect } from 'react'
import { useLocation } from 'react-router'

/** Where codes are written down, on the stages that have them. */
export const CODES_PART = 'codes'

/** Brings the part of a stage into view that the address names, each time that it is gone to. */
export function usePartInView(): void {
  const { hash, key } = useLocation()
  useEffect(() => {
    if (hash) document.getElementById(hash.slice(1))?.scrollIntoView({ block: 'center' })
  }, [hash, key])
}
