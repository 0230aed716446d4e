import { redirect } from 'next/navigation';
import { Suspense } from 'react';
import { whoLooks } from '@/server/access/session';
import { LabelPage } from '@/ui/print/labels/LabelPage';

export const metadata = { title: 'Labels' };

export default async function PrintLabelsPage() {
  const person = await whoLooks();
  if (!person) redirect('/login');
  return (
    <Suspense>
      <LabelPage />
    </Suspense>
  );
}
