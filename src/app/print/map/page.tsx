import { Suspense } from 'react';
import { whoLooksHere } from '@/server/access/looking';
import { PrintedMap } from '@/ui/map/print/PrintedMap';

export const metadata = { title: 'Map' };

export default async function PrintMapPage() {
  const person = await whoLooksHere();
  return (
    <Suspense>
      <PrintedMap by={person.name} />
    </Suspense>
  );
}
