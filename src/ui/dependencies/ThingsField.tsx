'use client';

import { silentToken } from '@/core/dependency/silentToken';
import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { FoundThing } from '../features/goTo/destinations';
import { call, type ApiProblem } from '../lib/api';

/** A thing as the address of the page writes it: `device:12`, `site:RPW`, a name. */
interface Choice {
  token: string;
  words: string;
  more: string;
}

const most = 10;

function choiceOf({ thing, row }: FoundThing): Choice[] {
  const text = (field: string) => String(row[field] ?? '');
  switch (thing) {
    case 'devices':
      return [{ token: `device:${row.id}`, words: text('name'), more: text('address') }];
    case 'machines':
      return [{ token: `machine:${row.id}`, words: text('name'), more: `virtual machine on ${text('host')}` }];
    case 'endpoints': {
      const words = text('host') || text('mac');
      return [{ token: `endpoint:${row.id}`, words, more: text('device') && `on ${text('device')} ${text('port')}` }];
    }
    case 'applications':
      return [{ token: `application:${row.id}`, words: text('name'), more: 'application' }];
    case 'services': {
      const process = text('process') || `${text('protocol')}/${text('port')}`;
      return [
        {
          token: `service:${text('deviceId')} ${process}`,
          words: `${process} on ${text('device')}`,
          more: text('service'),
        },
      ];
    }
    default:
      return [];
  }
}

/** Whole sites of what was found, where the site is what was written. */
function sitesOf(rows: readonly FoundThing[], text: string): Choice[] {
  const sites = new Set(rows.flatMap(({ thing, row }) => (thing === 'devices' && row.site ? [String(row.site)] : [])));
  return [...sites]
    .filter((site) => site.toLowerCase().startsWith(text.toLowerCase()))
    .map((site) => ({ token: `site:${site}`, words: `all of ${site}`, more: 'the devices of a site' }));
}

/** Tokens as they stand in the address. A name may hold no comma: what does is named by its number. */
export const tokensIn = (written: string | null): string[] =>
  (written ?? '')
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);

/** Several things, each found by a scrap of its name or address; anything may be written too, as names from a mail. */
export function ThingsField({
  label,
  tokens,
  survey,
  mistake,
  wordsOf,
  onChange,
}: {
  label: string;
  tokens: string[];
  survey: string | null;
  mistake: string | null;
  /** what a token is called, where that is known */
  wordsOf: (token: string) => string | undefined;
  onChange: (tokens: string[]) => void;
}) {
  const [text, showText] = useState('');
  // what was chosen takes what was written with it, before it is drawn
  const written = useRef('');
  const setText = (next: string) => {
    written.current = next;
    showText(next);
  };
  const wanted = text.trim();
  const [called, setCalled] = useState<ReadonlyMap<string, string>>(new Map());
  const { data } = useQuery<{ rows: FoundThing[] }, ApiProblem>({
    queryKey: ['find', wanted, survey, most],
    enabled: wanted !== '' && !wanted.includes(','),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call(`find?${new URLSearchParams({ text: wanted, most: String(most), ...(survey && { survey }) }).toString()}`, {
        signal,
      }),
  });
  const rows = wanted === '' ? [] : (data?.rows ?? []);
  const choices = [...sitesOf(rows, wanted), ...rows.flatMap(choiceOf)].filter(
    ({ token }, at, all) => !tokens.includes(token) && all.findIndex((other) => other.token === token) === at,
  );
  const meantBy = (one: string | Choice): string | Choice => {
    const text = tokenOf(one).trim().toLowerCase();
    const named = choices.filter(({ words }) => words.toLowerCase() === text);
    // two of one name are told apart by whoever chooses, or by the server
    if (named.length > 0) return named.length === 1 ? (named[0] ?? one) : one;
    return choices.find(({ words }) => words.toLowerCase().startsWith(text)) ?? one;
  };
  return (
    <Autocomplete
      multiple
      freeSolo
      autoHighlight
      size="small"
      options={choices}
      filterOptions={(options) => options}
      inputValue={text}
      value={tokens as (string | Choice)[]}
      isOptionEqualToValue={(option, value) => tokenOf(option) === tokenOf(value)}
      getOptionLabel={(choice) => {
        const token = tokenOf(choice);
        const [, site] = /^site:(.+)$/.exec(token) ?? [];
        if (token === silentToken) return 'all that do not answer';
        return wordsOf(token) ?? called.get(token) ?? (site ? `all of ${site}` : token);
      }}
      renderOption={({ key: _, ...props }, choice) =>
        typeof choice === 'string' ? null : (
          <li key={choice.token} {...props}>
            <span>
              <b>{choice.words}</b> <span className="quiet small">{choice.more}</span>
            </span>
          </li>
        )
      }
      onInputChange={(_, next, reason) => {
        // names from a mail or a list come many at once
        if (reason === 'input' && /[,\n;]/.test(next)) {
          const pasted = next.split(/[,;\n]+/).map((one) => one.trim());
          setText(pasted.pop() ?? '');
          const more = pasted.filter(Boolean);
          if (more.length > 0) onChange([...new Set([...tokens, ...more])]);
        } else if (reason !== 'reset') setText(next);
      }}
      onChange={(_, all, reason) => {
        // what was written and sent by Enter is what stands first in the list, as it is lit
        const meant = (one: string | Choice) => (reason === 'createOption' && one === all.at(-1) ? meantBy(one) : one);
        const next = all.map(meant);
        const chosen = next.filter((one): one is Choice => typeof one !== 'string');
        setCalled(new Map([...called, ...chosen.map(({ token, words }) => [token, words] as const)]));
        setText('');
        onChange([...new Set(next.map(tokenOf).map((token) => token.trim()))].filter(Boolean));
      }}
      onBlur={() => {
        const left = written.current.trim();
        if (left === '') return;
        setText('');
        onChange([...new Set([...tokens, left])]);
      }}
      renderInput={(parameters) => (
        <TextField
          {...parameters}
          label={label}
          placeholder={tokens.length === 0 ? 'a name, an address, a site' : ''}
          error={mistake !== null}
          helperText={mistake}
          slotProps={{ ...parameters.slotProps, formHelperText: { role: 'alert' } }}
        />
      )}
    />
  );
}

const tokenOf = (choice: string | Choice): string => (typeof choice === 'string' ? choice : choice.token);
