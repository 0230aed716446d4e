import { notFound, redirect } from 'next/navigation';
import { Suspense } from 'react';
import { thingNames, type ThingName } from '@/core/things/fields';
import { whoAsks } from '@/server/access/session';
import { PrintedTable } from '@/ui/print/PrintedTable';

export const metadata = { title: 'Print' };

export default async function PrintPage({ params }: { params: Promise<{ thing: string }> }) {
  const { thing } = await params;
  if (!thingNames.includes(thing as ThingName)) notFound();
  const asking = await whoAsks();
  if (!asking) redirect('/login');
  return <Suspense><PrintedTable thing={thing as ThingName} by={asking.person.name} /></Suspense>;
}
