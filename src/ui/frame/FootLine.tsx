'use client';

import { useSurveys, sealedOf } from '../lib/useSurveys';
import { useView } from '../lib/useView';
import { Glyph } from '../components/Glyph';
import { ago } from '../lib/format';
import { Link } from '@/ui/components/Link';
import { formatAge } from '@/core/values/quantity';
import { TextButton } from '../components/TextButton';

/** What runs, how old the answer is, what is chosen, and the keys that matter. */
export function FootLine({ onKeys }: { onKeys: () => void }) {
  const { data, error } = useSurveys();
  const view = useView();
  const sealed = sealedOf(data);
  const viewing = sealed.find(({ id }) => String(id) === view.survey) ?? sealed.at(-1);
  const running = data?.rows.find(({ state }) => state === 'running');
  return (
    <footer className="footline">
      {error ? (
        <span role="alert">
          <Glyph name="fault" /> no connection to the application; trying again
        </span>
      ) : data?.active ? (
        <Link href={view.href('/survey')}>
          <Glyph name="silent" /> Survey{running && ` ${running.id} of ${running.scopeName}`}:{' '}
          {progressWords(data?.active?.progress ?? null)}
        </Link>
      ) : viewing ? (
        <span>
          <Glyph name="up" /> Survey {viewing.id} of {viewing.scopeName}{' '}
          {viewing.state === 'cancelled' ? 'cut short' : 'sealed'} {ago(viewing.sealedAt ?? viewing.startedAt)},{' '}
          {viewing.summary?.addresses.answered ?? 0} of {viewing.asked} addresses answered
        </span>
      ) : (
        <span>nothing surveyed yet</span>
      )}
      {view.sel && <span>1 {view.sel.split(':')[0]} selected</span>}
      <span className="keys">
        <span>
          <kbd>/</kbd> filter
        </span>
        <span>
          <kbd>.</kbd> compare
        </span>
        <TextButton style={{ color: 'inherit', padding: 0 }} onClick={onKeys}>
          <kbd>?</kbd> keys
        </TextButton>
      </span>
    </footer>
  );
}

function progressWords(progress: { asked: number; done: number; secondsLeft: number | null } | null): string {
  if (!progress) return 'begins';
  const { asked, done, secondsLeft } = progress;
  return `${done} of ${asked} addresses done${secondsLeft !== null && done < asked ? `, about ${formatAge(Math.max(1, secondsLeft))} left` : ''}`;
}
