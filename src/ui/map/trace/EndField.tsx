'use client';

import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import type { FoundThing } from '../../features/goTo/destinations';

interface Choice {
  value: string;
  words: string;
  more: string;
}

const most = 8;

function choiceOf({ thing, by, row }: FoundThing): Choice[] {
  const text = (field: string) => String(row[field] ?? '');
  if (thing === 'devices') return [{ value: text('name'), words: text('name'), more: text('address') }];
  if (thing === 'machines')
    return [{ value: text('name'), words: text('name'), more: `virtual machine on ${text('host')}` }];
  if (thing !== 'endpoints') return [];
  const addresses = (row.addresses as string[] | undefined) ?? [];
  const words = text('host') || (addresses.includes(by) ? by : (addresses[0] ?? text('mac')));
  return [
    {
      value: addresses.includes(by) ? by : text('mac'),
      words,
      more: [words === text('mac') ? '' : text('mac'), text('device') && `on ${text('device')} ${text('port')}`]
        .filter(Boolean)
        .join(', '),
    },
  ];
}

/** One end of a trace: anything by a scrap of its name, address or MAC. */
export function EndField({
  label,
  value,
  survey,
  mistake,
  onChange,
}: {
  label: string;
  value: string;
  survey: string | null;
  mistake: string | null;
  onChange: (value: string) => void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const wanted = text.trim();
  const { data } = useQuery<{ rows: FoundThing[] }, ApiProblem>({
    queryKey: ['find', wanted, survey],
    enabled: wanted !== '' && wanted !== value,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call(`find?${new URLSearchParams({ text: wanted, most: String(most), ...(survey && { survey }) }).toString()}`, {
        signal,
      }),
  });
  const choices =
    wanted === '' || wanted === value
      ? []
      : (data?.rows ?? [])
          .flatMap(choiceOf)
          .filter((choice, at, all) => all.findIndex((other) => other.value === choice.value) === at);
  const take = (next: string) => {
    if (next.trim() !== value) onChange(next.trim());
  };
  return (
    <Autocomplete
      freeSolo
      size="small"
      options={choices}
      filterOptions={(options) => options}
      inputValue={text}
      value={value}
      getOptionLabel={(choice) => (typeof choice === 'string' ? choice : choice.value)}
      renderOption={({ key: _, ...props }, choice) => (
        <li key={choice.value} {...props}>
          <span>
            <b>{choice.words}</b> <span className="quiet small">{choice.more}</span>
          </span>
        </li>
      )}
      onInputChange={(_, next, reason) => {
        if (reason !== 'reset') setText(next);
      }}
      onChange={(_, choice) => {
        const next = choice === null ? '' : typeof choice === 'string' ? choice : choice.value;
        setText(next);
        take(next);
      }}
      onBlur={() => take(text)}
      renderInput={(parameters) => (
        <TextField
          {...parameters}
          label={label}
          placeholder="a name, an address, a MAC"
          error={mistake !== null}
          helperText={mistake}
          slotProps={{ ...parameters.slotProps, formHelperText: { role: 'alert' } }}
        />
      )}
    />
  );
}
