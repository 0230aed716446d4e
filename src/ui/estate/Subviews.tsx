'use client';

import { things } from '@/core/things/things';
import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';
import { estateTables } from '../features/goTo/estateTables';

/** What else one can look at in the Estate. */
export function Subviews({ current }: { current: string }) {
  const view = useView();
  const link = (of: string, words: string) => (
    <Link
      key={of}
      href={view.href('/estate', { of: of === 'devices' ? null : of, sel: null })}
      aria-current={of === current ? 'page' : undefined}
    >
      {words}
    </Link>
  );
  return (
    <nav className="subviews" aria-label="Tables">
      {estateTables.map((of) => link(of, things[of].title))}
      {link('groups', 'Groups')}
      {link('checks', 'Checks')}
    </nav>
  );
}
