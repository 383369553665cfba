import { PlaceForm } from '@uvula/contract'
import { QUANTITIES, standardPressurePa, type QuantityId, type VisitFile } from '@uvula/core'
import { Close, Dialog } from '../kit/Dialog.js'
import { Field } from '../kit/Field.js'
import { asNumber, useChecked } from '../kit/useChecked.js'
import { ownFields, useWriter } from '../store/visit.js'
import { useFormat } from '../words/format.js'

const FIELDS: readonly { readonly key: keyof PlaceForm; readonly label: string; readonly quantity: QuantityId }[] = [
  { key: 'altitudeM', label: 'altitude', quantity: 'altitude' },
  { key: 'ambientC', label: 'outside air', quantity: 'temperature' },
  { key: 'baroKpa', label: 'barometer, if trusted', quantity: 'pressure' },
  { key: 'odometerKm', label: 'odometer', quantity: 'distance' },
]

/** Place and weather of the visit: where pressures are judged. */
export function PlaceDialog({ file, pressureKpa }: { file: VisitFile; pressureKpa: number }) {
  const format = useFormat()
  const { visit } = file
  return (
    <Dialog
      title="Place and weather"
      trigger={
        <button type="button" className="whitespace-nowrap narrow:order-9 narrow:ml-16">
          {format('altitude', visit.altitudeM)}, {format('pressure', pressureKpa)},{' '}
          {format('temperature', visit.ambientC)}
        </button>
      }
    >
      <PlaceFields file={file} />
      <Close strong />
    </Dialog>
  )
}

function PlaceFields({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const { visit } = file
  const { altitudeM, ambientC, baroKpa, odometerKm } = visit
  const form = useChecked(PlaceForm, { altitudeM, ambientC, baroKpa, odometerKm })
  const { errors } = form.formState
  /** Kept as soon as it is left and right. */
  const keep = async (key: keyof PlaceForm): Promise<void> => {
    if (!(await form.trigger(key))) return
    const value = form.getValues(key)
    if (value === visit[key]) return
    write('visits', visit.id, { ...ownFields(visit), [key]: value })
  }
  return (
    <>
      <p className="text-small text-soft">
        Pressures are judged here, not at sea level. The standard atmosphere at {visit.altitudeM} m has{' '}
        {(standardPressurePa(visit.altitudeM) / 1000).toFixed(1)} kPa.
      </p>
      <form className="my-10 grid gap-4">
        {FIELDS.map((f) => (
          <Field
            key={f.key}
            label={f.label}
            unit={QUANTITIES[f.quantity].units[0].symbol}
            inputMode="decimal"
            error={errors[f.key]?.message}
            {...form.register(f.key, { setValueAs: asNumber(f.quantity), onBlur: () => void keep(f.key) })}
          />
        ))}
      </form>
    </>
  )
}
