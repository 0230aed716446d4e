'use client';

import { CheckBox } from '../CheckBox';
import { useField } from './fieldContext';

/** Several of a list, in the order in which they were chosen. @param empty what is said where there are none to choose from */
export function OrderedChoice({
  name,
  label,
  choices,
  empty = '',
  numbered = true,
  words = {},
}: {
  name: string;
  label: string;
  choices: readonly string[];
  empty?: string;
  numbered?: boolean;
  /** what stands behind some of them, to say which they are */
  words?: Readonly<Record<string, string>>;
}) {
  const { inputName, value, set, mistake } = useField<string[]>(name);
  const listed = [...new Set([...choices, ...value])];
  const wordsOf = (one: string) => {
    const more = words[one];
    const told = more ? `${one}: ${more}` : one;
    return numbered && value.includes(one) ? `${value.indexOf(one) + 1}. ${told}` : told;
  };
  return (
    <fieldset className="choices" name={inputName}>
      <legend className="small quiet">{label}</legend>
      {listed.map((one) => (
        <CheckBox
          key={one}
          label={wordsOf(one)}
          checked={value.includes(one)}
          onChange={(isChosen) => set(isChosen ? [...value, one] : value.filter((other) => other !== one))}
        />
      ))}
      {listed.length === 0 && empty && <p className="quiet small">{empty}</p>}
      {mistake && (
        <p className="bad small" role="alert">
          {mistake}
        </p>
      )}
    </fieldset>
  );
}
