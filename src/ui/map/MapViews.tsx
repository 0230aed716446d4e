'use client';

import type { ReactNode } from 'react';
import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';

type MapOf = 'map' | 'trace' | 'hosts' | 'fabric';

/** A trace begins at what is chosen. */
const fromOf = (sel: string | null): string | null =>
  sel?.startsWith('device:') || sel?.startsWith('endpoint:') ? sel : null;

/** What else shows how things hang together; beside it how the one that is shown is drawn. */
export function MapViews({ current, children }: { current: MapOf; children?: ReactNode }) {
  const view = useView();
  const link = (of: MapOf, words: string) => (
    <Link
      href={view.href('/map', {
        of: of === 'map' ? null : of,
        ...(of !== 'map' && of !== 'trace' && { sel: null }),
        ...(of === 'trace' && { from: view.from ?? fromOf(view.sel), to: view.to }),
      })}
      aria-current={of === current ? 'page' : undefined}
    >
      {words}
    </Link>
  );
  return (
    <div className="mapviews">
      <nav className="subviews" aria-label="Views of the network">
        {link('map', 'Plan')}
        {link('trace', 'Trace')}
        {link('hosts', 'Hosts')}
        {link('fabric', 'Fabric')}
      </nav>
      {children}
    </div>
  );
}
