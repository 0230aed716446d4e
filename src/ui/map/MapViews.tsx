'use client';

import { Link } from '@/ui/kit/Link';
import { useView } from '../frame/useView';

/** What else shows how things hang together. */
export function MapViews({ current }: { current: 'map' | 'hosts' | 'fabric' }) {
  const view = useView();
  const link = (of: 'map' | 'hosts' | 'fabric', words: string) => <Link href={view.href('/map', { of: of === 'map' ? null : of, ...(of !== 'map' && { sel: null }) })} aria-current={of === current ? 'page' : undefined}>{words}</Link>;
  return <nav className="subviews" aria-label="Views of the network">{link('map', 'Plan')}{link('hosts', 'Hosts')}{link('fabric', 'Fabric')}</nav>;
}
