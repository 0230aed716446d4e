'use client';

import Button from '@mui/material/Button';
import type { EstateGroup } from '@/core/groups/group';
import { groupSchema } from '@/core/groups/groupSchema';
import { FilterInput } from '../../components/form/FilterInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { call } from '../../lib/api';
import { useWritten } from '../../features/edits/useWritten';
import type { GroupRow } from './useGroups';

type Draft = Omit<EstateGroup, 'members'>;

const blank: Draft = { name: '', thing: 'devices', kind: 'filter', where: '', within: null, note: '' };
const draftOf = ({ name, thing, kind, where, within, note }: Draft): Draft => ({
  name,
  thing,
  kind,
  where,
  within,
  note,
});

const labels = { name: 'Name', kind: 'Made by', where: 'Filter', within: 'Lies in', note: 'Note', members: 'Members' };

const mistakesOf = ({ kind, where }: Draft) =>
  kind === 'filter' && where === '' ? [{ path: 'where', message: 'A group by filter needs a filter' }] : [];

/** Makes a group, or changes one. */
export function GroupForm({
  editing,
  groups,
  onDone,
}: {
  editing: GroupRow | null;
  groups: GroupRow[];
  onDone: () => void;
}) {
  const written = useWritten();
  const saving = useSavingForm<Draft, { version: number }>({
    values: editing ? draftOf(editing) : blank,
    schema: groupSchema,
    mistakes: mistakesOf,
    version: editing?.version ?? null,
    keep: `group ${editing?.id ?? 'new'}`,
    fromKept: draftOf,
    save: async (draft, seen) => {
      const members = editing ? (await call<EstateGroup>(`groups/${editing.id}`)).members : [];
      const body = {
        ...draft,
        within: draft.within || null,
        where: draft.kind === 'filter' ? draft.where : '',
        members: draft.kind === 'fixed' ? members : [],
      };
      return editing
        ? call(`groups/${editing.id}`, { method: 'PUT', body, seen })
        : call('groups', { method: 'POST', body });
    },
    done: async (_, { name }) => {
      await written();
      onDone();
      return { told: `“${name}” is ${editing ? 'changed' : 'made'}.`, values: blank };
    },
  });
  const { form } = saving;
  const { thing, kind, name } = form.watch();
  return (
    <SavingForm of={saving} prefix="group" labels={labels}>
      <h2 className="sub">{editing ? `Change “${editing.name}”` : 'Make a group'}</h2>
      <TextInput name="name" label="Name" />
      <div className="pair">
        <SelectInput
          name="thing"
          label="Of"
          choices={['devices', 'ports']}
          disabled={editing !== null}
          onChosen={() => form.setValue('within', null)}
        />
        <SelectInput
          name="kind"
          label="Made by"
          choices={[
            { value: 'filter', words: 'a filter: who fits is in it' },
            { value: 'fixed', words: 'names: who is put in' },
          ]}
        />
      </div>
      {kind === 'filter' ? (
        <FilterInput
          name="where"
          label="Filter"
          about={{ thing }}
          hint={thing === 'devices' ? 'role={role} site={site}' : 'kind=uplink oper=up'}
        />
      ) : (
        <p className="quiet small">Mark rows with M in the table of {thing}, then Edit › Into a group.</p>
      )}
      <SelectInput
        name="within"
        label="Lies in"
        help="its rows belong to that one too"
        empty="none"
        choices={groups.filter((other) => other.id !== editing?.id && other.thing === thing).map((other) => other.name)}
      />
      <TextInput name="note" label="Note" />
      <SaveLine
        of={saving}
        words={editing ? 'Save' : 'Make the group'}
        variant="outlined"
        disabled={name.trim() === ''}
      >
        {editing && (
          <Button color="secondary" onClick={onDone}>
            Leave it
          </Button>
        )}
      </SaveLine>
    </SavingForm>
  );
}
