'use client';

import { useSurveys, sealedOf } from '../lib/useSurveys';
import { workspaces } from '../features/goTo/workspaces';
import { useOpening } from '../lib/navigating';
import { useView } from '../lib/useView';
import { Glyph } from '../components/Glyph';
import { Ago } from '../components/Ago';
import { Link } from '@/ui/components/Link';
import { formatAge } from '@/core/values/quantity';
import { TextButton } from '../components/TextButton';

/** What runs, how old the answer is, what is chosen, and the keys that matter. */
export function FootLine({ onKeys }: { onKeys: () => void }) {
  const { data, error } = useSurveys();
  const view = useView();
  const sealed = sealedOf(data);
  const viewing = sealed.find(({ id }) => String(id) === view.survey) ?? sealed.at(-1);
  const opening = useOpening();
  const running = data?.rows.find(({ state }) => state === 'running');
  return (
    <footer className="footline">
      {opening ? (
        <span role="status">
          <Glyph name="silent" />{' '}
          {opening.waits
            ? `${nameOf(opening.path)} opens as soon as the application answers; nothing here is lost`
            : `opening ${nameOf(opening.path)}…`}
        </span>
      ) : error ? (
        <span role="alert">
          <Glyph name="fault" /> no connection to the application; trying again
        </span>
      ) : data?.stopped ? (
        <span role="alert">
          <Glyph name="fault" /> {data.stopped}; nothing is surveyed until it does
        </span>
      ) : data?.active ? (
        <Link href={view.href('/survey')}>
          <Glyph name="silent" /> Survey{running && ` ${running.id} of ${running.scopeName}`}:{' '}
          {progressWords(data?.active?.progress ?? null)}
        </Link>
      ) : viewing ? (
        <span>
          <Glyph name="up" /> Survey {viewing.id} of {viewing.scopeName}{' '}
          {viewing.state === 'cancelled' ? 'cut short' : 'sealed'} <Ago at={viewing.sealedAt ?? viewing.startedAt} />,{' '}
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

/** How the page at an address is called. */
const nameOf = (path: string): string =>
  workspaces.find((one) => path.startsWith(one.path))?.name ??
  (path.startsWith('/print') ? 'the printed page' : 'the page');

function progressWords(progress: { asked: number; done: number; secondsLeft: number | null } | null): string {
  if (!progress) return 'begins';
  const { asked, done, secondsLeft } = progress;
  return `${done} of ${asked} addresses done${secondsLeft !== null && done < asked ? `, about ${formatAge(Math.max(1, secondsLeft))} left` : ''}`;
}
