import { Suspense } from 'react';
import { whoLooksHere } from '@/server/access/looking';
import { PortReportPage } from '@/ui/print/PortReportPage';

export const metadata = { title: 'Port report' };

export default async function PrintPortReportPage() {
  const person = await whoLooksHere();
  return (
    <Suspense>
      <PortReportPage by={person.name} />
    </Suspense>
  );
}
