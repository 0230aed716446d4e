'use client';

import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';
import { DeviceDossier } from '../features/dossier/DeviceDossier';
import { TextButton } from '../components/TextButton';

/** A device's whole dossier on a page of its own. */
export function DossierPage({ id }: { id: string }) {
  const view = useView();
  return (
    <main className="work scrolls" style={{ padding: '14px 16px 30px', background: 'var(--panel)' }}>
      <p className="small screen-only">
        <Link href={view.href('/estate', { sel: `device:${id}` })}>Estate</Link> ·{' '}
        <TextButton onClick={() => window.print()}>Print</TextButton>
      </p>
      <DeviceDossier id={id} whole />
    </main>
  );
}
