'use client';

import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';

export type DependencyView = 'talk' | 'services' | 'circles' | 'applications' | 'rehearse' | 'suspects';

const views: { of: DependencyView; words: string }[] = [
  { of: 'talk', words: 'Talk' },
  { of: 'services', words: 'Services' },
  { of: 'circles', words: 'Circles' },
  { of: 'applications', words: 'Applications' },
  { of: 'rehearse', words: 'Rehearse' },
  { of: 'suspects', words: 'Suspects' },
];

/** The questions about who rests on whom. What was named stays named from one to the next. */
export function DependencyViews({ current }: { current: DependencyView }) {
  const view = useView();
  return (
    <nav className="subviews" aria-label="Questions about dependencies">
      {views.map(({ of, words }) => (
        <Link
          key={of}
          href={view.href('/dependencies', { of, down: view.down, sel: null })}
          aria-current={of === current ? 'page' : undefined}
        >
          {words}
        </Link>
      ))}
    </nav>
  );
}
