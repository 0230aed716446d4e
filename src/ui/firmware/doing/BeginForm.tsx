'use client';

import { useState } from 'react';
import { CheckInput } from '../../components/form/CheckInput';
import { FilterInput } from '../../components/form/FilterInput';
import { MomentInput } from '../../components/form/MomentInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { Glyph } from '../../components/Glyph';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';
import { partWords, type Looked } from './doingTypes';

const starts = [
  { value: 'now', words: 'at once, when it is there' },
  { value: 'window', words: 'in a window' },
  { value: 'restart', words: 'at its next restart, whenever that is' },
];

/** Why some stay, and who. */
function byReason(stays: Looked['looked']): [string, string[]][] {
  const found = new Map<string, string[]>();
  for (const one of stays) {
    const name = one.component === 'system' ? one.device : `${one.device} ${partWords(one)}`;
    found.set(one.stays, [...(found.get(one.stays) ?? []), name]);
  }
  return [...found];
}

/** What an upgrade would do, looked at before anything is sent; then its rules, and begin. */
export function BeginForm({ where, onBegun }: { where: string; onBegun: (id: number) => void }) {
  const written = useWritten();
  const [look, setLook] = useState<(Looked & { where: string }) | null>(null);
  const looking = useSavingForm({
    values: { where },
    mistakes: (draft) => (draft.where.trim() === '' ? [{ path: 'where', message: 'Say which devices' }] : []),
    save: (draft) =>
      call<Looked>('upgrades/look', { method: 'POST', body: { where: draft.where.trim() } }).then((told) => ({
        ...told,
        where: draft.where.trim(),
      })),
    done: (answer) => {
      setLook(answer);
      return undefined;
    },
  });
  const goes = look?.looked.filter(({ stays }) => stays === '') ?? [];
  const stays = look?.looked.filter((one) => one.stays !== '') ?? [];
  return (
    <section className="section">
      <h2>Begin an upgrade</h2>
      {look === null ? (
        <SavingForm of={looking} prefix="look." style={{ marginTop: 8 }}>
          <FilterInput
            name="where"
            label="Which of what has a target"
            about={{ thing: 'readiness', survey: null, against: null }}
            hint="verdict=ready site=HDP"
          />
          <SaveLine of={looking} words="Look at what it would do" busyWords="looking…" />
        </SavingForm>
      ) : (
        <>
          <p className="small">
            <code>{look.where}</code> <TextButton onClick={() => setLook(null)}>Others</TextButton>
          </p>
          <h3 className="listhead">
            {goes.length === 0 ? 'Nobody goes' : `${goes.length} ${goes.length === 1 ? 'goes' : 'go'}`}
          </h3>
          <ul className="plainlist">
            {goes.map((one) => (
              <li key={`${one.deviceId} ${one.component} ${one.name}`}>
                <Glyph name="up" word="goes" /> <b>{one.device}</b> {partWords(one)}{' '}
                <span className="mono">{one.from}</span> to <span className="mono">{one.to}</span>
                <div className="quiet small">
                  by {one.by === 'redfish' ? 'Redfish' : 'RESTCONF'};{' '}
                  {one.lost.length === 0 ? 'nothing else is lost meanwhile' : `meanwhile lost: ${one.lost.join(', ')}`}
                </div>
              </li>
            ))}
          </ul>
          {stays.length > 0 && (
            <>
              <h3 className="listhead">
                {stays.length} {stays.length === 1 ? 'stays' : 'stay'}
              </h3>
              <ul className="plainlist">
                {byReason(stays).map(([reason, names]) => (
                  <li key={reason}>
                    {reason}
                    <div className="quiet small">{names.join(', ')}</div>
                  </li>
                ))}
              </ul>
            </>
          )}
          {look.more > 0 && <p className="quiet small">{look.more} more fit than one upgrade may hold.</p>}
          {goes.length > 0 && (
            <Rules
              where={look.where}
              nameToType={look.nameToType}
              onBegun={(id) => {
                onBegun(id);
                void written();
              }}
            />
          )}
        </>
      )}
    </section>
  );
}

function Rules({
  where,
  nameToType,
  onBegun,
}: {
  where: string;
  nameToType: string | null;
  onBegun: (id: number) => void;
}) {
  const isWhole = (text: string) => /^\d{1,3}$/.test(text.trim()) && Number(text) >= 1 && Number(text) <= 200;
  const saving = useSavingForm({
    values: {
      ...{ name: '', start: 'now', from: null as string | null, until: null as string | null },
      ...{ atOnce: '1', stopAfter: '1', rollsBack: false, typed: '' },
    },
    mistakes: (draft) => [
      ...(draft.name.trim() === '' ? [{ path: 'name', message: 'Give it a name' }] : []),
      ...(draft.start === 'window' && !draft.from ? [{ path: 'from', message: 'Say when it begins' }] : []),
      ...(draft.start === 'window' && !draft.until ? [{ path: 'until', message: 'Say when it is over' }] : []),
      ...(['atOnce', 'stopAfter'] as const).flatMap((path) =>
        isWhole(draft[path]) ? [] : [{ path, message: 'A whole number from 1 to 200' }],
      ),
      ...(nameToType !== null && draft.typed !== nameToType
        ? [{ path: 'typed', message: `Type “${nameToType}”, which would be stopped` }]
        : []),
    ],
    save: ({ name, start, from, until, atOnce, stopAfter, rollsBack, typed }) =>
      call<{ id: number }>('upgrades', {
        method: 'POST',
        body: {
          ...{ name: name.trim(), where, start, rollsBack },
          ...{ atOnce: Number(atOnce), stopAfter: Number(stopAfter) },
          ...(start === 'window' && { from, until }),
          ...(nameToType !== null && { typed }),
        },
      }),
    done: ({ id }) => {
      onBegun(id);
      return undefined;
    },
  });
  const start = saving.form.watch('start');
  return (
    <SavingForm of={saving} prefix="upgrade." style={{ marginTop: 12 }}>
      <TextInput name="name" label="Name" help="as “leaves of November”" />
      <SelectInput name="start" label="They restart" choices={starts} />
      {start === 'window' && (
        <div className="pair">
          <MomentInput name="from" label="From" />
          <MomentInput name="until" label="Until" />
        </div>
      )}
      <div className="pair">
        <TextInput name="atOnce" label="At the same time" help="devices" />
        <TextInput name="stopAfter" label="Stop after" help="that did not end well" />
      </div>
      <CheckInput name="rollsBack" label="Go back where something is not as it was" />
      {nameToType !== null && (
        <TextInput name="typed" label={`“${nameToType}” would be stopped: type its name to go on`} />
      )}
      <SaveLine of={saving} words="Begin" busyWords="beginning…" />
    </SavingForm>
  );
}
