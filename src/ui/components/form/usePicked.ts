import { useState } from 'react';
import { isValid, parseISO } from 'date-fns';

const dateOf = (text: string | null): Date | null => {
  const date = text ? parseISO(text) : null;
  return date && isValid(date) ? date : null;
};

/**
 * The date a picker shows beside the text that the form has: while somebody types, a picker has half a date, and wants back exactly what it gave.
 * @param write how a whole date stands in the form; half of one stands there as it cannot be
 * @param read and how it is read from there
 */
export function usePicked(
  text: string | null,
  set: (text: string | null) => void,
  write: (date: Date) => string,
  read: (text: string | null) => Date | null = dateOf,
) {
  const [given, setGiven] = useState(text);
  const [date, setDate] = useState(() => read(text));
  // the form was given another value from outside
  if (text !== given) {
    setGiven(text);
    setDate(read(text));
  }
  const pick = (next: Date | null) => {
    const written = next === null ? null : isValid(next) ? write(next) : 'half a date';
    setDate(next);
    setGiven(written);
    set(written);
  };
  return { date, pick };
}
