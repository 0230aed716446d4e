import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoAsks } from '@/server/access/session';
import { PrintedDossiers } from '@/ui/print/PrintedDossiers';

export const metadata = { title: 'Dossiers' };

export default async function PrintDossiersPage() {
  const asking = await whoAsks();
  if (!asking) redirect('/login');
  return (
    <Suspense>
      <PrintedDossiers by={asking.person.name} />
    </Suspense>
  );
}
