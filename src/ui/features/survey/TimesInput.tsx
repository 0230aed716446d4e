'use client';

import { TimePicker } from '@mui/x-date-pickers/TimePicker';
import { format, isValid, parse } from 'date-fns';
import { Dates } from '../../components/form/Dates';
import { TextButton } from '../../components/TextButton';

const someDay = new Date(2026, 0, 1);

/** Times of the day, `06:00`. */
export function TimesInput({ times, onChange }: { times: readonly string[]; onChange: (times: string[]) => void }) {
  const put = (at: number, time: Date | null) =>
    onChange(times.map((one, nth) => (nth === at && time && isValid(time) ? format(time, 'HH:mm') : one)));
  return (
    <Dates>
      <div className="times">
        {times.map((time, at) => (
          <span key={at} className="time">
            <TimePicker
              label={times.length === 1 ? 'At' : `At, ${at + 1}`}
              ampm={false}
              value={parse(time, 'HH:mm', someDay)}
              onChange={(next) => put(at, next)}
              slotProps={{ textField: { size: 'small' } }}
            />
            {times.length > 1 && (
              <TextButton aria-label={`Remove ${time}`} onClick={() => onChange(times.filter((_, nth) => nth !== at))}>
                Remove
              </TextButton>
            )}
          </span>
        ))}
        <TextButton onClick={() => onChange([...times, '18:00'])}>Another time</TextButton>
      </div>
    </Dates>
  );
}
