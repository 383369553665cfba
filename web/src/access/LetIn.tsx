import { useState } from 'react'
import type { Door, PairingCode } from '@uvula/contract'
import { Close, Dialog } from '../kit/Dialog.js'
import { postJson, wordsOf } from '../store/api.js'
import { sayTime } from '../words/format.js'
import { QrCode } from './QrCode.js'
import { inHalves } from './words.js'

/** Lets one tablet in: the certificate first, then a code that holds once and for a short while. */
export function LetIn({ door }: { door: Door }) {
  const [open, setOpen] = useState(false)
  const [code, setCode] = useState<PairingCode>()
  const [problem, setProblem] = useState<string>()
  const swing = (wanted: boolean): void => {
    setOpen(wanted)
    setCode(undefined)
    setProblem(undefined)
    if (wanted) postJson<PairingCode>('/api/access/code', {}).then(setCode, (e: unknown) => setProblem(wordsOf(e)))
  }
  return (
    <Dialog
      open={open}
      onOpenChange={swing}
      title="let a tablet in"
      wide
      trigger={
        <button type="button" className="act strong">
          let a tablet in
        </button>
      }
    >
      <ol className="my-16 grid gap-20">
        {door.trust.length > 0 && (
          <li className="grid grid-cols-[auto_minmax(0,1fr)] gap-20 narrow:grid-cols-1">
            <QrCode text={door.trust[0]} label="address of the certificate" />
            <div className="grid content-start gap-8">
              <p>
                <b>1</b> On the tablet open <b className="break-all">{door.trust[0]}</b> and take the shop’s
                certificate. Its SHA-256 fingerprint has to be
              </p>
              <p className="fig text-lead" data-testid="fingerprint">
                {door.fingerprint}
              </p>
            </div>
          </li>
        )}
        <li className="grid grid-cols-[auto_minmax(0,1fr)] gap-20 narrow:grid-cols-1">
          {code && <QrCode text={code.links[0]} label="address that lets the tablet in" />}
          <div className="grid content-start gap-8">
            <p>
              <b>{door.trust.length > 0 ? 2 : 1}</b> Then open <b className="break-all">{door.addresses[0]}</b> and type
              the code, or read the square.
            </p>
            {code && (
              <>
                <p className="fig text-bench leading-none" data-testid="code">
                  {inHalves(code.code)}
                </p>
                <p>It lets one tablet in, until {sayTime(code.until)}.</p>
              </>
            )}
            {problem && <p className="wrong">{problem}</p>}
          </div>
        </li>
      </ol>
      {door.addresses.length > 1 && (
        <p className="mb-16 text-small text-soft">Where that is not found: {door.addresses.slice(1).join(', ')}</p>
      )}
      <Close>done</Close>
    </Dialog>
  )
}
