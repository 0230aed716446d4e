import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoAsks } from '@/server/access/session';
import { PrintedMap } from '@/ui/print/PrintedMap';

export const metadata = { title: 'Map' };

export default async function PrintMapPage() {
  const asking = await whoAsks();
  if (!asking) redirect('/login');
  return (
    <Suspense>
      <PrintedMap by={asking.person.name} />
    </Suspense>
  );
}
