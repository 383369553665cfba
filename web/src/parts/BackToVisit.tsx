import { ChevronLeft } from 'lucide-react'
import { Link } from 'react-router'
import type { VisitFile } from '@uvula/core'

/** From a page of a visit back to its measuring. */
export function BackToVisit({ file }: { file: VisitFile }) {
  return (
    <Link
      to={`/visit/${encodeURIComponent(file.visit.id)}/measure`}
      className="w-tap h-tap grid place-items-center"
      aria-label="back to the visit"
    >
      <ChevronLeft size={30} aria-hidden />
    </Link>
  )
}
