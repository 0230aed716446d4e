'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { EstateGroup, GroupedThing } from '@/core/groups/group';
import { call, type ApiProblem } from '../../lib/api';
import { FilterField } from '../../components/filter/FilterField';
import { useGroupsWritten, type GroupRow } from './useGroups';

const blank = {
  name: '',
  thing: 'devices' as GroupedThing,
  kind: 'filter' as EstateGroup['kind'],
  where: '',
  within: '',
  note: '',
};

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
  const written = useGroupsWritten();
  const [form, setForm] = useState(
    editing
      ? {
          name: editing.name,
          thing: editing.thing,
          kind: editing.kind,
          where: editing.where,
          within: editing.within ?? '',
          note: editing.note,
        }
      : blank,
  );
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [told, setTold] = useState('');
  const at = (path: string) => problem?.errors.find((mistake) => mistake.path === path)?.message;
  const save = async () => {
    try {
      const members = editing ? (await call<EstateGroup>(`groups/${editing.id}`)).members : [];
      await call(editing ? `groups/${editing.id}` : 'groups', {
        method: editing ? 'PUT' : 'POST',
        body: {
          ...form,
          name: form.name.trim(),
          within: form.within || null,
          where: form.kind === 'filter' ? form.where : '',
          members: form.kind === 'fixed' ? members : [],
        },
      });
      setProblem(null);
      setTold(`“${form.name}” is ${editing ? 'changed' : 'made'}.`);
      setForm(blank);
      await written();
      onDone();
    } catch (error) {
      setProblem(error as ApiProblem);
    }
  };
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2 className="sub">{editing ? `Change “${editing.name}”` : 'Make a group'}</h2>
      <TextField
        label="Name"
        name="groupName"
        autoComplete="off"
        value={form.name}
        error={Boolean(at('name'))}
        helperText={at('name')}
        onChange={(event) => setForm({ ...form, name: event.target.value })}
      />
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10 }}>
        <TextField
          select
          label="Of"
          name="groupThing"
          value={form.thing}
          disabled={editing !== null}
          onChange={(event) => setForm({ ...form, thing: event.target.value as GroupedThing, within: '' })}
        >
          <MenuItem value="devices">devices</MenuItem>
          <MenuItem value="ports">ports</MenuItem>
        </TextField>
        <TextField
          select
          label="Made by"
          name="groupKind"
          value={form.kind}
          onChange={(event) => setForm({ ...form, kind: event.target.value as EstateGroup['kind'] })}
        >
          <MenuItem value="filter">a filter: who fits is in it</MenuItem>
          <MenuItem value="fixed">names: who is put in</MenuItem>
        </TextField>
      </div>
      {form.kind === 'filter' ? (
        <div>
          <div className="small quiet">Filter</div>
          <FilterField
            key={form.thing}
            own
            about={{ thing: form.thing }}
            value={form.where}
            onChange={(where) => setForm((before) => ({ ...before, where }))}
            problem={problem}
            hint={form.thing === 'devices' ? 'role=switch site=RPW' : 'kind=uplink device.site=RPW'}
          />
          {at('where') && (
            <p className="bad small" role="alert">
              {at('where')}
            </p>
          )}
        </div>
      ) : (
        <p className="quiet small">Mark rows with M in the table of {form.thing}, then Edit › Into a group.</p>
      )}
      <TextField
        select
        label="Lies in"
        name="groupWithin"
        value={form.within}
        error={Boolean(at('within'))}
        helperText={at('within') ?? 'its rows belong to that one too'}
        onChange={(event) => setForm({ ...form, within: event.target.value })}
      >
        <MenuItem value="">
          <span className="quiet">none</span>
        </MenuItem>
        {groups
          .filter(({ id, thing }) => id !== editing?.id && thing === form.thing)
          .map(({ id, name }) => (
            <MenuItem key={id} value={name}>
              {name}
            </MenuItem>
          ))}
      </TextField>
      <TextField
        label="Note"
        name="groupNote"
        autoComplete="off"
        value={form.note}
        onChange={(event) => setForm({ ...form, note: event.target.value })}
      />
      {problem && problem.errors.length === 0 && (
        <p className="bad" role="alert">
          {problem.detail}
        </p>
      )}
      <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
        <Button type="submit" variant="outlined" disabled={form.name.trim() === ''}>
          {editing ? 'Save' : 'Make the group'}
        </Button>
        {editing && (
          <Button color="secondary" onClick={onDone}>
            Leave it
          </Button>
        )}
        {told && (
          <span role="status" className="quiet small">
            {told}
          </span>
        )}
      </div>
    </form>
  );
}
