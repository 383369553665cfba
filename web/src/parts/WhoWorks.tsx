import { changeHands, overNetwork } from '../store/access.js'
import { useSettings } from '../store/settings.js'

/** Whose entries these are; another takes the tablet up by it. Nothing on the shop's own computer. */
export function WhoWorks() {
  const { technician } = useSettings()
  if (!overNetwork) return null
  return (
    <button type="button" className="whitespace-nowrap underline underline-offset-4" onClick={() => changeHands()}>
      <span className="visually-hidden">hand the tablet over: signed in is </span>
      {technician}
    </button>
  )
}
