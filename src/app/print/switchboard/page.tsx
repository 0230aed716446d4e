import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoAsks } from '@/server/access/session';
import { PortReportPage } from '@/ui/print/PortReportPage';

export const metadata = { title: 'Port report' };

export default async function PrintPortReportPage() {
  const asking = await whoAsks();
  if (!asking) redirect('/login');
  return (
    <Suspense>
      <PortReportPage by={asking.person.name} />
    </Suspense>
  );
}
