'use client';

import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';

const views = [
  { of: 'readiness', words: 'Readiness' },
  { of: 'runs', words: 'What runs' },
  { of: 'targets', words: 'Targets' },
  { of: 'releases', words: 'Catalogue' },
  { of: 'images', words: 'Images' },
  { of: 'advisories', words: 'Advisories' },
  { of: 'waves', words: 'Waves' },
  { of: 'doing', words: 'Doing' },
] as const;
export type FirmwareView = (typeof views)[number]['of'];

/** The questions about firmware. */
export function FirmwareViews({ current }: { current: FirmwareView }) {
  const view = useView();
  return (
    <nav className="subviews" aria-label="Questions about firmware">
      {views.map(({ of, words }) => (
        <Link
          key={of}
          href={view.href('/firmware', {
            of: of === 'readiness' ? null : of,
            ...(of !== current && { sel: null, where: null }),
          })}
          aria-current={of === current ? 'page' : undefined}
        >
          {words}
        </Link>
      ))}
    </nav>
  );
}
