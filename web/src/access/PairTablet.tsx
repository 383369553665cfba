import { useState } from 'react'
import { PairForm, type Standing } from '@uvula/contract'
import { Field } from '../kit/Field.js'
import { useChecked } from '../kit/useChecked.js'
import { postJson, wordsOf } from '../store/api.js'

/** A tablet that was never here: a code of the shop's computer lets it in, or the passphrase. */
export function PairTablet({ onIn }: { onIn: (standing: Standing) => void }) {
  // the code comes with the address that the shop's computer shows
  const form = useChecked(PairForm, { secret: decodeURIComponent(location.hash.slice(1)), name: '' }, 'onSubmit')
  const { errors, isSubmitting } = form.formState
  const [problem, setProblem] = useState<string>()
  const send = form.handleSubmit(async (values) => {
    setProblem(undefined)
    try {
      onIn(await postJson<Standing>('/api/access/pair', values))
    } catch (e) {
      setProblem(wordsOf(e))
    }
  })
  return (
    <form className="grid gap-16" onSubmit={(e) => void send(e)}>
      <p>
        This tablet has not been here before. On the shop’s computer open <b>settings</b>, there <b>let a tablet in</b>:
        it shows a code for this one. The shop’s passphrase does as well.
      </p>
      <Field
        label="code or passphrase"
        look="above"
        autoCapitalize="off"
        spellCheck={false}
        error={errors.secret?.message}
        {...form.register('secret')}
      />
      <Field
        label="what this tablet is called"
        look="above"
        placeholder="as: bay two"
        error={errors.name?.message}
        {...form.register('name')}
      />
      <button type="submit" className="act next justify-self-start" disabled={isSubmitting}>
        let this tablet in
      </button>
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
    </form>
  )
}
