'use client';

import { useState } from 'react';
import { FileButton } from '../../components/FileButton';
import { Fold } from '../../components/Fold';
import { FilterInput } from '../../components/form/FilterInput';
import { MomentInput } from '../../components/form/MomentInput';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { TextButton } from '../../components/TextButton';
import { call } from '../../lib/api';
import type { Wave, Window } from './wavePlaces';

/** What a plan of waves comes to. */
export interface WavesAnswer {
  survey: number;
  waves: Wave[];
  unplaced: { device: string; deviceId: number; why: string }[];
  windows: Window[];
  minutes: number;
  leastMinutes: number;
}

interface Draft {
  where: string;
  first: string | null;
  hours: string;
  every: string;
  times: string;
  crew: string;
  perSite: string;
  minutes: string;
  mayStop: string;
}

const rhythms = [
  { value: '1', words: 'every night' },
  { value: '7', words: 'every week' },
  { value: '14', words: 'every second week' },
];

/** The next Saturday evening at ten. */
function nextSaturday(): string {
  const night = new Date();
  night.setDate(night.getDate() + ((6 - night.getDay() + 7) % 7 || 7));
  night.setHours(22, 0, 0, 0);
  return night.toISOString();
}

const isWhole = (text: string, most: number) =>
  /^\d{1,4}$/.test(text.trim()) && Number(text) >= 1 && Number(text) <= most;

const mistakesOf = (hasCalendar: boolean) => (draft: Draft) => [
  ...(hasCalendar || draft.first ? [] : [{ path: 'first', message: 'Say when the first window begins' }]),
  ...(
    [
      ['hours', 48],
      ['times', 200],
      ['crew', 1000],
      ['minutes', 1440],
    ] as const
  ).flatMap(([path, most]) =>
    isWhole(draft[path], most) ? [] : [{ path, message: `A whole number from 1 to ${most}` }],
  ),
  ...(draft.perSite.trim() === '' || isWhole(draft.perSite, 1000)
    ? []
    : [{ path: 'perSite', message: 'A whole number from 1 to 1000, or nothing' }]),
];

/** Windows as they repeat: by the clock on the wall, so that ten in the evening stays ten in the evening. */
function windowsOf({ first, hours, every, times }: Draft): Window[] {
  const begin = new Date(first ?? Date.now());
  return Array.from({ length: Number(times) }, (_, nth) => {
    const start = new Date(begin);
    start.setDate(begin.getDate() + nth * Number(every));
    return { start: start.toISOString(), end: new Date(start.getTime() + Number(hours) * 3_600_000).toISOString() };
  });
}

/** What is asked of a plan: who, when, how many at the same time. */
export function WavesForm({ survey, onPlan }: { survey: string | null; onPlan: (plan: WavesAnswer) => void }) {
  const [calendar, setCalendar] = useState<{ name: string; text: string } | null>(null);
  const saving = useSavingForm<Draft, WavesAnswer>({
    values: {
      ...{ where: '', first: nextSaturday(), hours: '6', every: '7', times: '4' },
      ...{ crew: '5', perSite: '', minutes: '30', mayStop: '' },
    },
    mistakes: mistakesOf(calendar !== null),
    save: (draft) =>
      call<WavesAnswer>('waves', {
        method: 'POST',
        body: {
          where: draft.where.trim(),
          ...(calendar === null ? { windows: windowsOf(draft) } : { calendar: calendar.text }),
          zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
          crew: Number(draft.crew),
          ...(draft.perSite.trim() !== '' && { perSite: Number(draft.perSite) }),
          minutes: Number(draft.minutes),
          mayStop: draft.mayStop
            .split(',')
            .map((one) => one.trim())
            .filter(Boolean),
          ...(survey && { survey }),
        },
      }),
    done: (answer) => {
      onPlan(answer);
      return undefined;
    },
  });
  return (
    <section className="section">
      <h2>Who, and when</h2>
      <SavingForm of={saving} prefix="waves." style={{ marginTop: 8 }}>
        <FilterInput
          name="where"
          label="Devices: without a filter all that have a target and are not there"
          about={{ thing: 'devices', survey, against: null }}
          hint="site=SGH role=switch"
        />
        {calendar === null ? (
          <>
            <MomentInput name="first" label="First window begins" />
            <div className="pair">
              <TextInput name="hours" label="Hours long" />
              <TextInput name="times" label="How many windows" />
            </div>
            <SelectInput name="every" label="They come" choices={rhythms} />
          </>
        ) : (
          <p className="small">
            Windows from <b>{calendar.name}</b> <TextButton onClick={() => setCalendar(null)}>Leave it</TextButton>
          </p>
        )}
        <div className="pair">
          <TextInput name="crew" label="At the same time" help="devices" />
          <TextInput name="minutes" label="Each is away" help="minutes" />
        </div>
        <Fold title="More rules" says="of a site, a calendar, what may stop">
          <TextInput name="perSite" label="At the same time of one site" help="empty: as many as at all" />
          <TextInput name="mayStop" label="Applications that may be stopped" help="names, with commas" />
          <FileButton
            words="Windows from a calendar"
            name="waves.calendar"
            accept=".ics,.json,text/calendar,application/json"
            onFile={(file) => void file.text().then((text) => setCalendar({ name: file.name, text }))}
          />
        </Fold>
        <SaveLine of={saving} words="Work the waves out" busyWords="working it out…" />
      </SavingForm>
    </section>
  );
}
