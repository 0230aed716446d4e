'use client';

import { useState } from 'react';
import { maintenanceSchema } from '@/core/groups/maintenanceSchema';
import { FilterInput } from '../../components/form/FilterInput';
import { MomentInput } from '../../components/form/MomentInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';
import { useView } from '../../lib/useView';

interface Draft {
  where: string;
  reason: string;
  from: string;
  until: string | null;
}

const usualHours = 4;

const mistakesOf = ({ from, until }: Draft) =>
  until !== null && Date.parse(until) <= Date.parse(from)
    ? [{ path: 'until', message: 'It ends before it begins' }]
    : [];

/** Sets a time in which somebody works at devices. */
export function MaintenanceForm() {
  const view = useView();
  const written = useWritten();
  const [done, setDone] = useState<Done | null>(null);
  const [now] = useState(() => new Date());
  const saving = useSavingForm<Draft, { devices: number; edit: number }>({
    values: {
      where: view.where,
      reason: '',
      from: now.toISOString(),
      until: new Date(now.getTime() + usualHours * 3_600_000).toISOString(),
    },
    schema: maintenanceSchema,
    keep: 'maintenance new',
    mistakes: mistakesOf,
    save: (body) => call('maintenance', { method: 'POST', body }),
    done: async ({ devices, edit }, values) => {
      setDone({ words: `Set for ${devices} ${devices === 1 ? 'device' : 'devices'}.`, edit });
      await written();
      return { values: { ...values, reason: '' } };
    },
  });
  const { where, reason } = saving.form.watch();
  return (
    <SavingForm of={saving} prefix="maintenance">
      <h2 className="sub">Set maintenance</h2>
      <FilterInput
        name="where"
        label="Devices, as a filter"
        about={{ thing: 'devices' }}
        hint="site={site} role={role}, or a group"
      />
      <TextInput name="reason" label="What is done" />
      <MomentInput name="from" label="From" />
      <MomentInput name="until" label="Until" help="empty: until somebody ends it" />
      <SaveLine
        of={saving}
        words="Set maintenance"
        variant="outlined"
        disabled={where.trim() === '' || reason.trim() === ''}
      />
      <UndoNote done={done} onDone={setDone} />
    </SavingForm>
  );
}
