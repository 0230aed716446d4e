'use client';

import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { GroupedThing } from '@/core/groups/group';
import { CheckInput } from '../../components/form/CheckInput';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call, thingPath, type ThingPage } from '../../lib/api';
import { UndoNote, type Done } from '../edits/UndoNote';
import { useWritten } from '../edits/useWritten';
import type { EditedRows } from './editedRows';
import { RowsChoice, type RowsMeant } from './RowsChoice';

interface GroupRow {
  id: number;
  name: string;
  thing: GroupedThing;
  kind: 'fixed' | 'filter';
}

const pageSize = 1000;
const blank = { into: '', name: '', asFilter: true };

/** Puts rows into a group by name, a new one or one that is there; all that the table shows can become a group by its filter. */
export function GroupRows({
  thing,
  request,
  total,
  selected,
  marked,
}: Omit<EditedRows, 'thing'> & { thing: GroupedThing }) {
  const written = useWritten();
  const { data: groups = [] } = useQuery({
    queryKey: ['groups', 'to choose from'],
    queryFn: async () => (await call<{ rows: GroupRow[] }>('groups')).rows,
  });
  const fixed = groups.filter((group) => group.thing === thing && group.kind === 'fixed');
  const [meant, setMeant] = useState<RowsMeant>(
    marked.length > 0 ? 'marked' : selected !== null ? 'selected' : 'shown',
  );
  const [done, setDone] = useState<Done | null>(null);
  const where = request.where ?? '';
  const idsMeant = async () => {
    if (meant === 'marked') return marked;
    if (meant === 'selected') return selected === null ? [] : [selected];
    const ids: string[] = [];
    for (let page = 1; ; page++) {
      const { rows } = await call<ThingPage>(
        thingPath(thing, { survey: request.survey ?? null, where, columns: ['name'], page, size: pageSize }),
      );
      ids.push(...rows.map(({ id }) => id));
      if (rows.length < pageSize) return ids;
    }
  };
  const makes = async (name: string, byFilter: boolean): Promise<Done> => {
    const members = byFilter ? [] : await idsMeant();
    const kind = byFilter ? 'filter' : 'fixed';
    const body = { name, thing, kind, where: byFilter ? where : '', members };
    const { edit } = await call<{ edit: number }>('groups', { method: 'POST', body });
    const words = byFilter
      ? `“${name}” is made: whatever fits the filter is in it, now and later.`
      : `“${name}” is made with ${members.length} ${thing}.`;
    return { words, edit };
  };
  const putsInto = async (into: string): Promise<Done> => {
    const members = await idsMeant();
    const { edit } = await call<{ edit: number }>(`groups/${into}`, { method: 'PATCH', body: { add: members } });
    const called = fixed.find(({ id }) => String(id) === into)?.name ?? '';
    return { words: `${members.length} ${thing} are in “${called}”.`, edit };
  };
  const saving = useSavingForm<typeof blank, Done>({
    values: blank,
    save: ({ into, name, asFilter }) =>
      into === '' ? makes(name, meant === 'shown' && where !== '' && asFilter) : putsInto(into),
    done: async (answer, values) => {
      setDone(answer);
      await written();
      return { values: { ...values, name: '' } };
    },
  });
  const { into, name } = saving.form.watch();
  return (
    <SavingForm of={saving}>
      <RowsChoice {...{ thing, total, selected, marked, meant }} onChoose={setMeant} />
      <SelectInput
        name="into"
        label="Into"
        empty="a new group"
        choices={fixed.map((group) => ({ value: String(group.id), words: group.name }))}
      />
      {into === '' && <TextInput name="name" label="Called" />}
      {meant === 'shown' && into === '' && where !== '' && (
        <CheckInput name="asFilter" label={`by the filter ${where}: what fits later belongs to it too`} />
      )}
      <UndoNote done={done} onDone={setDone} />
      <div>
        <Button type="submit" variant="contained" disabled={saving.isBusy || (into === '' && name.trim() === '')}>
          {into === '' ? 'Make the group' : 'Put them in'}
        </Button>
      </div>
    </SavingForm>
  );
}
