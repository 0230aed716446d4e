'use client';

import Button from '@mui/material/Button';
import { readingRuleSchema, type ReadingRule } from '@/core/signatures/reading';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { ValidationError } from 'yup';

/** A reading as it is written: its place is an object or a resource, as it begins. */
interface Draft {
  name: string;
  where: string;
  place: string;
  unit: string;
  multiplyBy: number | string;
  above: number | string;
  below: number | string;
}

const draftOf = (rule: ReadingRule | null): Draft => ({
  name: rule?.name ?? '',
  where: rule?.where ?? '',
  place: rule?.oid ?? rule?.resource ?? '',
  unit: rule?.unit ?? '',
  multiplyBy: rule?.multiplyBy ?? '',
  above: rule?.above ?? '',
  below: rule?.below ?? '',
});

const numbers = ['multiplyBy', 'above', 'below'] as const;

function ruleOf({ name, where, place, unit, ...bounds }: Draft): object {
  return {
    name,
    where,
    ...(place.startsWith('/') ? { resource: place } : place ? { oid: place.replace(/^\./, '') } : {}),
    ...(unit && { unit }),
    ...Object.fromEntries(numbers.flatMap((of) => (bounds[of] === '' ? [] : [[of, bounds[of]]]))),
  };
}

/** What is wrong with the rule that is meant, told where it is written. */
function mistakesOf(draft: Draft) {
  const odd = numbers
    .filter((of) => typeof draft[of] === 'string' && draft[of] !== '')
    .map((of) => ({ path: of, message: 'is no number' }));
  if (odd.length > 0) return odd;
  try {
    readingRuleSchema.validateSync(ruleOf(draft), { abortEarly: false, strict: true });
    return [];
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    return error.inner.map(({ path = '', message }) => ({
      path: ['oid', 'resource', ''].includes(path) ? 'place' : path,
      message,
    }));
  }
}

/** Adds a reading, or changes one. */
export function ReadingForm({
  rule,
  onSend,
  onDone,
  onLeave,
}: {
  rule: ReadingRule | null;
  onSend: (rule: object) => Promise<void>;
  onDone: () => void;
  onLeave: () => void;
}) {
  const saving = useSavingForm<Draft, unknown>({
    values: draftOf(rule),
    keep: `reading ${rule?.name ?? 'new'}`,
    mistakes: mistakesOf,
    save: (draft) => onSend(ruleOf(draft)),
    done: () => {
      onDone();
      return undefined;
    },
  });
  return (
    <SavingForm of={saving} style={{ marginTop: 12, maxWidth: 760 }}>
      <div className="pair">
        <TextInput name="name" label="Name" help="as the line is called" />
        <TextInput name="where" label="Of devices" help="a filter: role=switch site=LQY; empty for all" mono />
      </div>
      <TextInput
        name="place"
        label="Read at"
        help="an object, 1.3.6.1.4.1.59101.1.5.0, or a place in a resource, /redfish/v1/Chassis/1/Power#/PowerControl/0/PowerConsumedWatts"
        mono
      />
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 8 }}>
        <TextInput name="unit" label="Unit" help="W, °C, %" />
        <TextInput name="multiplyBy" label="Factor" type="number" help="times, 1 if empty" />
        <TextInput name="below" label="Not below" type="number" help="a fault beneath" />
        <TextInput name="above" label="Not above" type="number" help="a fault beyond" />
      </div>
      <SaveLine of={saving} words="Save the reading">
        <Button color="secondary" onClick={onLeave}>
          Leave it
        </Button>
      </SaveLine>
    </SavingForm>
  );
}
