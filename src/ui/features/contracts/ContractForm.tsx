'use client';

import { contractKinds, contractMistakes, partsByKind, readSerials, type Contract } from '@/core/cover/contract';
import { contractSchema } from '@/core/cover/contractSchema';
import { CheckInput } from '../../components/form/CheckInput';
import { DayInput } from '../../components/form/DayInput';
import { LinesInput } from '../../components/form/LinesInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call, type ThingRow } from '../../lib/api';
import { useWritten } from '../edits/useWritten';

const blank: Contract = {
  number: '',
  kind: 'contract',
  supplier: '',
  level: '',
  contact: '',
  from: null,
  until: null,
  parts: true,
  note: '',
  serials: [],
};

const labels = {
  number: 'Number',
  kind: 'Kind',
  supplier: 'Supplier',
  level: 'Promises',
  contact: 'Call',
  from: 'From',
  until: 'Until',
  parts: 'With what a chassis holds',
  note: 'Note',
  serials: 'Serials',
};

function contractOf(row: ThingRow | null): Contract {
  if (!row) return blank;
  const text = (field: string) => String(row[field] ?? '');
  return {
    number: text('number'),
    kind: row.kind as Contract['kind'],
    supplier: text('supplier'),
    level: text('level'),
    contact: text('contact'),
    from: text('from') || null,
    until: text('until') || null,
    parts: row.parts === true,
    note: text('note'),
    serials: row.serials as string[],
  };
}

const mistakesOf = (contract: Contract) =>
  contractMistakes(contract).map(({ field, message }) => ({ path: field, message }));

/** Enters a contract, or changes one. @param version in which the one that is changed was read */
export function ContractForm({
  editing,
  version,
  onDone,
}: {
  editing: ThingRow | null;
  version: number | null;
  onDone: () => void;
}) {
  const written = useWritten();
  const saving = useSavingForm<Contract, { version: number }>({
    values: contractOf(editing),
    schema: contractSchema,
    mistakes: mistakesOf,
    version,
    keep: `contract ${editing?.id ?? 'new'}`,
    fromKept: (kept: Contract) => kept,
    save: (body, seen) =>
      editing
        ? call(`contracts/${editing.id}`, { method: 'PUT', body, seen })
        : call('contracts', { method: 'POST', body }),
    done: async (_, { number }) => {
      await written();
      if (editing) onDone();
      return editing ? undefined : { told: `${number} is entered.`, values: blank };
    },
  });
  const { form } = saving;
  const count = form.watch('serials').length;
  return (
    <SavingForm of={saving} prefix="contract." labels={labels} style={{ paddingTop: 6 }}>
      <div className="pair">
        <TextInput name="number" label="Number" help="as on paper" />
        <SelectInput
          name="kind"
          label="Kind"
          choices={contractKinds}
          onChosen={(kind) => form.setValue('parts', partsByKind(kind as Contract['kind']))}
        />
      </div>
      <div className="pair">
        <TextInput name="supplier" label="Supplier" />
        <TextInput name="level" label="Promises" help="like “part on site within 4 hours”" />
      </div>
      <div className="pair">
        <DayInput name="from" label="From" help="empty: since ever" />
        <DayInput name="until" label="Until" help="the last day; empty: without an end" />
      </div>
      <TextInput name="contact" label="Call" help="whom, and how" />
      <LinesInput
        name="serials"
        label="Serials"
        rows={3}
        mostRows={9}
        split={readSerials}
        help={
          count > 0
            ? `${count.toLocaleString('en')} ${count === 1 ? 'serial' : 'serials'}`
            : 'separated by blanks, commas or lines'
        }
      />
      <CheckInput name="parts" label="what a chassis holds is covered with it" />
      <TextInput name="note" label="Note" multiline />
      <SaveLine of={saving} words={editing ? 'Save' : 'Enter the contract'} />
    </SavingForm>
  );
}
