import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoLooks } from '@/server/access/session';
import { PrintedMap } from '@/ui/map/print/PrintedMap';

export const metadata = { title: 'Map' };

export default async function PrintMapPage() {
  const person = await whoLooks();
  if (!person) redirect('/login');
  return (
    <Suspense>
      <PrintedMap by={person.name} />
    </Suspense>
  );
}
