import { Suspense } from 'react';
import { whoLooksHere } from '@/server/access/looking';
import { LabelPage } from '@/ui/print/labels/LabelPage';

export const metadata = { title: 'Labels' };

export default async function PrintLabelsPage() {
  await whoLooksHere();
  return (
    <Suspense>
      <LabelPage />
    </Suspense>
  );
}
