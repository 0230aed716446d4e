import { createContext, useContext } from 'react';
import { useController, type Control, type FieldErrors, type FieldValues } from 'react-hook-form';

/** Before the names of inputs, so that two forms on one page have no names in common: `contract.` or `group`. */
export const NamePrefix = createContext('');

/** An input of the form around it: its value, how it is changed, and what is wrong with it, in words. */
export function useField<Value>(name: string, control?: Control) {
  const prefix = useContext(NamePrefix);
  const { field, fieldState } = useController({ name, ...(control && { control }) });
  const mistake = mistakeWords(fieldState.error as Mistake | undefined);
  return {
    /** as the element is named in the page */
    inputName: inputNameOf(prefix, name),
    value: field.value as Value,
    set: (value: Value) => field.onChange(value),
    leave: field.onBlur,
    ref: field.ref,
    mistake,
  };
}

/** `contract.number` after a prefix with a dot, else `groupName`. */
function inputNameOf(prefix: string, name: string): string {
  if (prefix === '' || prefix.endsWith('.')) return prefix + name;
  return prefix + name.charAt(0).toUpperCase() + name.slice(1);
}

type Mistake = FieldErrors<FieldValues>[string] | { message?: string };

/** What is wrong, of a list each at its line. */
function mistakeWords(mistake: Mistake | undefined): string {
  if (!mistake) return '';
  if (typeof mistake.message === 'string' && mistake.message !== '') return mistake.message;
  const lines = Array.isArray(mistake) ? (mistake as (Mistake | undefined)[]) : Object.values(mistake);
  return lines
    .flatMap((one, at) => {
      const words = typeof one === 'object' ? mistakeWords(one as Mistake) : '';
      if (!words) return [];
      return [Array.isArray(mistake) ? `line ${at + 1}: ${words}` : words];
    })
    .join('\n');
}
