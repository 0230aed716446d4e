import { useEffect, useMemo, useRef, useState } from 'react';
import { get, useForm, type DefaultValues, type FieldValues, type Path, type UseFormReturn } from 'react-hook-form';
import type { ApiProblem, Conflict } from '../../lib/api';
import { useDraft } from '../../lib/draft';
import type { FieldMistake } from '@/core/estate/scope';
import { resolverOf, type FormRules } from './resolver';

/** What became of what was saved: words for the person, and what the form holds then. */
export interface Saved<Values> {
  told?: string;
  /** the form anew; without it what was saved stays in it */
  values?: Values;
}

interface SavingOptions<Values extends FieldValues, Answer> extends FormRules<Values> {
  values: Values;
  /** the version in which what is changed was read; null for what is new */
  version?: number | null;
  /** @param seen to be sent with it, so that what others wrote since is not written over */
  save: (values: Values, seen: number | null) => Promise<Answer>;
  /** what only the server can tell, asked for beside mistakes that keep the form from being sent */
  judge?: (values: Values) => Promise<FieldMistake[]>;
  done?: (answer: Answer, values: Values) => Saved<Values> | undefined | Promise<Saved<Values> | undefined>;
  /** whether a mistake is told while it is typed, where nothing can be pressed before it is mended */
  isToldAtOnce?: boolean;
  /** what is being written is kept under this name until it is saved, and offered again; never of what holds a secret */
  keep?: string;
  /** what stands there by now as the form has it, for whoever takes it */
  fromKept?: (kept: never) => Values;
}

export interface SavingForm<Values extends FieldValues> {
  form: UseFormReturn<Values>;
  submit: () => void;
  isBusy: boolean;
  told: string;
  /** what is wrong with the whole */
  problem: string;
  conflict: Conflict | null;
  keepMine: () => void;
  takeTheirs: (() => void) | null;
  forget: () => void;
  /** what was written here before and not saved */
  left: { at: string; take: () => void; drop: () => void } | null;
}

/**
 * A form and its way to the server: mistakes are told at their fields as these are left, what the server says stands at the same
 * fields, and what somebody else wrote meanwhile is shown beside what one wrote oneself.
 */
export function useSavingForm<Values extends FieldValues, Answer>(
  options: SavingOptions<Values, Answer>,
): SavingForm<Values> {
  const { values, version = null, save, judge, done, fromKept, isToldAtOnce = false, keep, ...rules } = options;
  const latest = useRef(rules);
  latest.current = rules;
  const resolver = useMemo(
    () => (given: Values, context: unknown, more: never) => resolverOf<Values>(latest.current)(given, context, more),
    [],
  );
  const form = useForm<Values>({
    defaultValues: values as DefaultValues<Values>,
    resolver: resolver as never,
    mode: isToldAtOnce ? 'onChange' : 'onTouched',
  });
  const [seen, setSeen] = useState(version);
  const draft = useDraft<{ values: Values; seen: number | null }>(keep ?? null);
  const { keep: keepDraft } = draft;
  useEffect(() => {
    if (keep === undefined) return undefined;
    const watching = form.watch((given, { name }) => {
      // what the program puts there is nobody's work
      if (name !== undefined) keepDraft({ values: given as Values, seen });
    });
    return () => watching.unsubscribe();
  }, [form, keep, keepDraft, seen]);
  const [isBusy, setBusy] = useState(false);
  const [told, setTold] = useState('');
  const [problem, setProblem] = useState('');
  const [conflict, setConflict] = useState<Conflict | null>(null);
  /** Puts mistakes at their fields. @returns those that have none */
  const tell = (mistakes: readonly FieldMistake[]) =>
    mistakes.filter(({ path, message }) => {
      const place = placeIn(form.getValues(), path);
      const isTold = place !== null && form.getFieldState(place).invalid;
      if (place !== null && !isTold) form.setError(place, { type: 'server', message: atLine(path, message) });
      return place === null;
    });
  const fail = (error: ApiProblem) => {
    const elsewhere = tell(error.errors);
    setConflict(error.conflict);
    if (error.conflict) return;
    if (elsewhere.length > 0) setProblem(elsewhere.map(({ message }) => message).join('. '));
    else if (error.errors.length === 0) setProblem(error.words);
  };
  const send = async (given: Values, over: number | null) => {
    setBusy(true);
    setProblem('');
    setTold('');
    setConflict(null);
    try {
      const answer = await save(given, over);
      // before the form may give way to another
      draft.forget();
      const saved = await done?.(answer, given);
      const next = (answer as { version?: number } | null)?.version;
      if (next !== undefined) setSeen((before) => (before === null ? null : next));
      setTold(saved?.told ?? '');
      form.reset(saved?.values ?? given);
    } catch (error) {
      if (!(error instanceof Error) || !('errors' in error)) throw error;
      fail(error as ApiProblem);
    } finally {
      setBusy(false);
    }
  };
  // a second press while it is on its way sends nothing
  const sending = useRef(false);
  const submitOver = (over: number | null) => {
    if (sending.current) return;
    sending.current = true;
    void form
      .handleSubmit(
        (given) => send(given, over),
        // whoever mends these would only then hear of the others
        async () => void tell((await judge?.(form.getValues()).catch(() => [])) ?? []),
      )()
      .finally(() => (sending.current = false));
  };
  const theirs = conflict?.values[0]?.now ?? null;
  return {
    form,
    submit: () => submitOver(seen),
    isBusy,
    told,
    problem,
    conflict,
    keepMine: () => {
      const over = conflict?.version ?? seen;
      setSeen(over);
      submitOver(over);
    },
    takeTheirs:
      fromKept && theirs !== null
        ? () => {
            form.reset(fromKept(theirs as never));
            setSeen(conflict?.version ?? seen);
            setConflict(null);
          }
        : null,
    forget: () => {
      setTold('');
      setProblem('');
    },
    left: draft.left && {
      at: draft.left.at,
      take: () => {
        const { values: given, seen: over } = draft.left?.value ?? { values, seen };
        for (const [name, value] of Object.entries(given))
          form.setValue(name as Path<Values>, value as never, { shouldDirty: true, shouldTouch: true });
        setSeen(over);
        draft.takenUp();
      },
      drop: draft.forget,
    },
  };
}

/** The field that a path of the server is at, the list where it is of a line; null where the form has none. */
function placeIn<Values extends FieldValues>(values: Values, path: string): Path<Values> | null {
  // a field of one of several: `rules[0].pattern`
  const dotted = path.replace(/\[(\d+)\]/g, '.$1');
  if (/\]\./.test(path) && get(values, dotted) !== undefined) return dotted as Path<Values>;
  const [field = ''] = path.split('[');
  const known = field !== '' && get(values, field) !== undefined;
  return known ? (field as Path<Values>) : null;
}

const atLine = (path: string, message: string): string => {
  const line = /\[(\d+)\]$/.exec(path)?.[1];
  return line === undefined ? message : `line ${Number(line) + 1}: ${message}`;
};
