'use client';

import { useHotkeys } from 'react-hotkeys-hook';
import { questions, type Question } from '@/core/things/thing';
import { things } from '@/core/things/things';
import { Link } from '@/ui/components/Link';
import { estateTables } from '../features/goTo/estateTables';
import { useGo } from '../lib/useGo';
import { useView } from '../lib/useView';

/** What a person asks of the estate. */
const questionWords: Record<Question, string> = {
  have: 'What we have',
  connected: 'How it is connected',
  runs: 'What runs on it',
  wrong: 'What is wrong',
  changed: 'What changed',
};

/** What answers a question beside the tables of things. */
const views: Partial<Record<Question, { of: string; words: string }[]>> = {
  have: [{ of: 'groups', words: 'Groups' }],
  wrong: [{ of: 'checks', words: 'Checks' }],
};

const answersTo = (question: Question): { of: string; words: string }[] => [
  ...estateTables
    .filter((of) => things[of].question === question)
    .map((of) => ({ of: of as string, words: things[of].title })),
  ...(views[question] ?? []),
];

/** The questions, each with its key, and what answers the one that is looked at. */
export function Subviews({ current }: { current: string }) {
  const view = useView();
  const go = useGo();
  const hrefOf = (of: string) => view.href('/estate', { of: of === 'devices' ? null : of, sel: null });
  const asked = questions.find((question) => answersTo(question).some(({ of }) => of === current)) ?? 'have';
  useHotkeys(questions.map((_, at) => String(at + 1)).join(','), ({ key }) => {
    const question = questions[Number(key) - 1];
    const first = question && answersTo(question)[0];
    if (first) go(hrefOf(first.of));
  });
  return (
    <>
      <nav className="questions" aria-label="Questions">
        {questions.map((question, at) => (
          <Link
            key={question}
            href={hrefOf(question === asked ? current : (answersTo(question)[0]?.of ?? current))}
            aria-current={question === asked ? 'true' : undefined}
            aria-keyshortcuts={String(at + 1)}
          >
            <kbd aria-hidden>{at + 1}</kbd>
            {questionWords[question]}
          </Link>
        ))}
      </nav>
      <nav className="subviews" aria-label="Tables">
        {answersTo(asked).map(({ of, words }) => (
          <Link key={of} href={hrefOf(of)} aria-current={of === current ? 'page' : undefined}>
            {words}
          </Link>
        ))}
      </nav>
    </>
  );
}
