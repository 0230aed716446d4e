'use client';

import { Link } from '@/ui/kit/Link';
import { useView } from '../frame/useView';
import { DeviceDossier } from '../kit/DeviceDossier';

/** A device's whole dossier on a page of its own. */
export function DossierPage({ id }: { id: string }) {
  const view = useView();
  return (
    <main className="work scrolls" style={{ padding: '14px 16px 30px', background: 'var(--panel)' }}>
      <p className="small screen-only">
        <Link href={view.href('/estate', { sel: `device:${id}` })}>Estate</Link> ·{' '}
        <button type="button" className="textlink" onClick={() => window.print()}>
          Print
        </button>
      </p>
      <DeviceDossier id={id} whole />
    </main>
  );
}
