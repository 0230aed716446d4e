import { Suspense } from 'react';
import { whoLooksHere } from '@/server/access/looking';
import { PrintedDossiers } from '@/ui/print/PrintedDossiers';

export const metadata = { title: 'Dossiers' };

export default async function PrintDossiersPage() {
  const person = await whoLooksHere();
  return (
    <Suspense>
      <PrintedDossiers by={person.name} />
    </Suspense>
  );
}
