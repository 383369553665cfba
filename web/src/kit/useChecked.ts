import { classValidatorResolver } from '@hookform/resolvers/class-validator'
import { parseTyped, QUANTITIES, type QuantityId } from '@uvula/core'
import { useForm, type DefaultValues, type FieldValues, type UseFormReturn } from 'react-hook-form'

/** A form that is checked by the class the server checks it by, field by field as each is left unless said otherwise. */
export function useChecked<T extends FieldValues>(
  form: new () => T,
  values: DefaultValues<T>,
  /** A form that is begun at its first field and left for something else is checked when it is sent. */
  when: 'onBlur' | 'onSubmit' = 'onBlur',
): UseFormReturn<T> {
  return useForm<T>({
    resolver: classValidatorResolver(form as never),
    defaultValues: values,
    mode: when,
    reValidateMode: when === 'onBlur' ? 'onBlur' : 'onChange',
  })
}

/** What was typed as a number in the quantity's own unit: "18,5 °C" is 18.5; nothing is undefined, words are not a number. */
export const asNumber =
  (quantity: QuantityId) =>
  (text: unknown): number | undefined => {
    if (typeof text === 'number' || text === undefined || text === null) return text ?? undefined
    if (String(text).trim() === '') return undefined
    const typed = parseTyped(String(text), quantity, QUANTITIES[quantity].units[0])
    return typed.ok ? typed.value : NaN
  }
