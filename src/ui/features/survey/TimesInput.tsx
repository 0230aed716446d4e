'use client';

import { TimePicker } from '@mui/x-date-pickers/TimePicker';
import { format, isValid, parse } from 'date-fns';
import { Dates } from '../../components/form/Dates';
import { usePicked } from '../../components/form/usePicked';
import { TextButton } from '../../components/TextButton';

/** Times of the day, `06:00`. */
export function TimesInput({ times, onChange }: { times: readonly string[]; onChange: (times: string[]) => void }) {
  return (
    <Dates>
      <div className="times">
        {times.map((time, at) => (
          <span key={at} className="time">
            <OneTime
              label={times.length === 1 ? 'At' : `At, ${at + 1}`}
              time={time}
              onChange={(next) => onChange(times.map((one, nth) => (nth === at ? next : one)))}
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

const someDay = new Date(2026, 0, 1);
const written = (time: Date) => format(time, 'HH:mm');
const timeOf = (text: string | null): Date | null => {
  const time = text ? parse(text, 'HH:mm', someDay) : null;
  return time && isValid(time) ? time : null;
};

function OneTime({ label, time, onChange }: { label: string; time: string; onChange: (time: string) => void }) {
  const { date, pick } = usePicked(time, (next) => onChange(next ?? ''), written, timeOf);
  return (
    <TimePicker label={label} ampm={false} value={date} onChange={pick} slotProps={{ textField: { size: 'small' } }} />
  );
}
