'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useState } from 'react';
import {
  calendarMistake,
  everyHours,
  readCalendar,
  weekdays,
  writeCalendar,
  type SurveyCalendar,
} from '@/core/estate/surveyCalendar';
import { useField } from '../../components/form/fieldContext';
import { NextRuns } from './NextRuns';
import { TimesInput } from './TimesInput';

const kindWords: Record<SurveyCalendar['kind'], string> = {
  byHand: 'by hand only',
  hours: 'every few hours',
  week: 'on days of the week',
  month: 'on days of the month',
  written: 'as a script wrote it',
};

/** What a kind begins with when it is chosen. */
function firstOf(kind: SurveyCalendar['kind'], before: SurveyCalendar): SurveyCalendar {
  const times = 'times' in before ? before.times : ['06:00'];
  switch (kind) {
    case 'hours':
      return { kind, every: 4, minute: 0 };
    case 'week':
      return { kind, days: [1, 2, 3, 4, 5], times };
    case 'month':
      return { kind, days: [1], times };
    default:
      return { kind: 'byHand' };
  }
}

/** When surveys begin of themselves: days and times, and the next five runs. @param quietHours in which none begins */
export function CalendarInput({ name, quietHours }: { name: string; quietHours: readonly string[] }) {
  const { inputName, value, set, mistake } = useField<string>(name);
  // a choice that is not whole yet (no day, half a time) is kept here until it is
  const [calendar, setCalendar] = useState(() => readCalendar(value));
  const [atFirst] = useState(calendar);
  const change = (next: SurveyCalendar) => {
    setCalendar(next);
    if (calendarMistake(next) === null) set(writeCalendar(next));
  };
  const wrong = calendarMistake(calendar) ?? mistake;
  const kinds = (['byHand', 'hours', 'week', 'month'] as const).map((kind) => ({ kind, words: kindWords[kind] }));
  return (
    <div className="form">
      <TextField
        select
        label="Surveyed"
        name={inputName}
        value={calendar.kind}
        error={wrong !== ''}
        helperText={wrong}
        onChange={({ target }) =>
          change(target.value === 'written' ? atFirst : firstOf(target.value as SurveyCalendar['kind'], calendar))
        }
      >
        {[...kinds, ...(atFirst.kind === 'written' ? [{ kind: atFirst.kind, words: kindWords.written }] : [])].map(
          ({ kind, words }) => (
            <MenuItem key={kind} value={kind}>
              {words}
            </MenuItem>
          ),
        )}
      </TextField>
      {calendar.kind === 'hours' && (
        <div className="pair">
          <TextField
            select
            label="Every"
            value={calendar.every}
            onChange={({ target }) => change({ ...calendar, every: Number(target.value) })}
          >
            {everyHours.map((hours) => (
              <MenuItem key={hours} value={hours}>
                {hours === 1 ? 'hour' : `${hours} hours`}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="At minute"
            value={calendar.minute}
            onChange={({ target }) => change({ ...calendar, minute: Number(target.value) })}
          >
            {[...new Set([0, 5, 10, 15, 20, 25, 30, 35, 40, 45, 50, 55, calendar.minute])]
              .sort((one, other) => one - other)
              .map((minute) => (
                <MenuItem key={minute} value={minute}>
                  {minute}
                </MenuItem>
              ))}
          </TextField>
        </div>
      )}
      {(calendar.kind === 'week' || calendar.kind === 'month') && (
        <>
          <ToggleButtonGroup
            className={calendar.kind === 'month' ? 'days month' : 'days'}
            size="small"
            aria-label={calendar.kind === 'week' ? 'Days of the week' : 'Days of the month'}
            value={calendar.days}
            onChange={(_, days: number[]) => change({ ...calendar, days: [...days].sort((one, other) => one - other) })}
          >
            {calendar.kind === 'week'
              ? weekdays.map((day, at) => (
                  <ToggleButton key={day} value={at + 1}>
                    {day.slice(0, 3)}
                  </ToggleButton>
                ))
              : Array.from({ length: 31 }, (_, at) => (
                  <ToggleButton key={at} value={at + 1}>
                    {at + 1}
                  </ToggleButton>
                ))}
          </ToggleButtonGroup>
          <TimesInput times={calendar.times} onChange={(times) => change({ ...calendar, times })} />
        </>
      )}
      {calendar.kind !== 'byHand' && <NextRuns schedule={value} quietHours={quietHours} />}
    </div>
  );
}
