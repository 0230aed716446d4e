import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoLooks } from '@/server/access/session';
import { PrintedDossiers } from '@/ui/print/PrintedDossiers';

export const metadata = { title: 'Dossiers' };

export default async function PrintDossiersPage() {
  const person = await whoLooks();
  if (!person) redirect('/login');
  return (
    <Suspense>
      <PrintedDossiers by={person.name} />
    </Suspense>
  );
}
