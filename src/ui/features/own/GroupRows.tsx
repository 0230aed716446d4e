'use client';

import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { GroupedThing } from '@/core/groups/group';
import { call, thingPath, type ApiProblem, type ThingPage, type ThingRequest } from '../../lib/api';
import { RowsChoice, type RowsMeant } from './RowsChoice';
import { useOwnWritten } from './useOwnEdits';

interface GroupRow {
  id: number;
  name: string;
  thing: GroupedThing;
  kind: 'fixed' | 'filter';
}

const pageSize = 1000;

/** Puts rows into a group by name, a new one or one that is there; all that the table shows can become a group by its filter. */
export function GroupRows({
  thing,
  request,
  total,
  selected,
  marked,
}: {
  thing: GroupedThing;
  request: ThingRequest;
  total: number;
  selected: string | null;
  marked: string[];
}) {
  const written = useOwnWritten();
  const { data: groups = [] } = useQuery({
    queryKey: ['groups', 'to choose from'],
    queryFn: async () => (await call<{ rows: GroupRow[] }>('groups')).rows,
  });
  const fixed = groups.filter((group) => group.thing === thing && group.kind === 'fixed');
  const [meant, setMeant] = useState<RowsMeant>(
    marked.length > 0 ? 'marked' : selected !== null ? 'selected' : 'shown',
  );
  const [into, setInto] = useState('');
  const [name, setName] = useState('');
  const [asFilter, setAsFilter] = useState(true);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [told, setTold] = useState('');
  const where = request.where ?? '';
  const mayBeFilter = meant === 'shown' && into === '' && where !== '';
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
  const save = async () => {
    try {
      if (into === '') {
        const byFilter = mayBeFilter && asFilter;
        const members = byFilter ? [] : await idsMeant();
        await call('groups', {
          method: 'POST',
          body: {
            name: name.trim(),
            thing,
            kind: byFilter ? 'filter' : 'fixed',
            where: byFilter ? where : '',
            members,
          },
        });
        setTold(
          byFilter
            ? `“${name}” is made: whatever fits the filter is in it, now and later.`
            : `“${name}” is made with ${members.length} ${thing}.`,
        );
        setName('');
      } else {
        const members = await idsMeant();
        await call(`groups/${into}`, { method: 'PATCH', body: { add: members } });
        setTold(`${members.length} ${thing} are in “${fixed.find(({ id }) => String(id) === into)?.name ?? ''}”.`);
      }
      setProblem(null);
      await written();
    } catch (error) {
      setTold('');
      setProblem(error as ApiProblem);
    }
  };
  const at = (path: string) => problem?.errors.find((mistake) => mistake.path === path)?.message;
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <RowsChoice {...{ thing, total, selected, marked, meant }} onChoose={setMeant} />
      <TextField
        select
        size="small"
        label="Into"
        value={into}
        slotProps={{ htmlInput: { name: 'into' }, inputLabel: { shrink: true }, select: { displayEmpty: true } }}
        onChange={(event) => setInto(event.target.value)}
      >
        <MenuItem value="">a new group</MenuItem>
        {fixed.map(({ id, name: known }) => (
          <MenuItem key={id} value={String(id)}>
            {known}
          </MenuItem>
        ))}
      </TextField>
      {into === '' && (
        <TextField
          size="small"
          label="Called"
          name="newGroup"
          autoComplete="off"
          value={name}
          error={Boolean(at('name'))}
          helperText={at('name')}
          onChange={(event) => setName(event.target.value)}
        />
      )}
      {mayBeFilter && (
        <label>
          <input type="checkbox" checked={asFilter} onChange={() => setAsFilter(!asFilter)} /> by the filter{' '}
          <span className="mono">{where}</span>: what fits later belongs to it too
        </label>
      )}
      {problem && !at('name') && (
        <p role="alert" className="bad">
          {problem.words}
        </p>
      )}
      {told && <p role="status">{told}</p>}
      <div>
        <Button type="submit" variant="contained" disabled={into === '' && name.trim() === ''}>
          {into === '' ? 'Make the group' : 'Put them in'}
        </Button>
      </div>
    </form>
  );
}
