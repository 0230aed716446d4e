import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoAsks } from '@/server/access/session';
import { PrintedTable } from '@/ui/print/PrintedTable';

export const metadata = { title: 'Print' };

export default async function PrintPage({ params }: { params: Promise<{ thing: string }> }) {
  const { thing } = await params;
  const asking = await whoAsks();
  if (!asking) redirect('/login');
  return (
    <Suspense>
      <PrintedTable thing={thing} by={asking.person.name} />
    </Suspense>
  );
}
