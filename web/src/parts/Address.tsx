import { useState } from 'react'

/** Where a device is on the network: a name or number and a port, remembered on this tablet. */
export function Address({
  label,
  keep,
  example,
  problem,
  onConnect,
}: {
  label: string
  /** What it is remembered by. */
  keep: string
  example: string
  problem: string | undefined
  onConnect: (host: string, port: number) => void
}) {
  const [address, setAddress] = useState(() => localStorage.getItem(keep) ?? '')
  const [wrong, setWrong] = useState<string>()
  const connect = (): void => {
    const m = /^\s*([\w.-]+)\s*:\s*(\d{1,5})\s*$/.exec(address)
    if (!m) return setWrong(`"${address}" is no address: a name or number and a port, as in ${example}.`)
    setWrong(undefined)
    localStorage.setItem(keep, address.trim())
    onConnect(m[1], Number(m[2]))
  }
  return (
    <>
      <div>
        <label className="mb-4 block text-small text-soft" htmlFor={keep}>
          {label}
        </label>
        <input
          id={keep}
          className="field"
          value={address}
          placeholder={example}
          spellCheck={false}
          autoComplete="off"
          onChange={(e) => setAddress(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && connect()}
        />
      </div>
      <button type="button" className="act" disabled={!address.trim()} onClick={connect}>
        connect
      </button>
      {(wrong ?? problem) && (
        <p className="wrong w-full" role="alert">
          {wrong ?? problem}
        </p>
      )}
    </>
  )
}
