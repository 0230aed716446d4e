import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoLooks } from '@/server/access/session';
import { PortReportPage } from '@/ui/print/PortReportPage';

export const metadata = { title: 'Port report' };

export default async function PrintPortReportPage() {
  const person = await whoLooks();
  if (!person) redirect('/login');
  return (
    <Suspense>
      <PortReportPage by={person.name} />
    </Suspense>
  );
}
