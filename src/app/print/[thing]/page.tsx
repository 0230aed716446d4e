import { Suspense } from 'react';
import { whoLooksHere } from '@/server/access/looking';
import { PrintedTable } from '@/ui/print/PrintedTable';

export const metadata = { title: 'Print' };

export default async function PrintPage({ params }: { params: Promise<{ thing: string }> }) {
  const { thing } = await params;
  const person = await whoLooksHere();
  return (
    <Suspense>
      <PrintedTable thing={thing} by={person.name} />
    </Suspense>
  );
}
