import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoAsks } from '@/server/access/session';
import { LabelPage } from '@/ui/print/labels/LabelPage';

export const metadata = { title: 'Labels' };

export default async function PrintLabelsPage() {
  const asking = await whoAsks();
  if (!asking) redirect('/login');
  return (
    <Suspense>
      <LabelPage />
    </Suspense>
  );
}
