import { redirect } from 'next/navigation';
import { Suspense, type ReactNode } from 'react';
import { whoAsks } from '@/server/access/session';
import { webStore } from '@/server/access/store';
import { countPeople } from '@/store/people';
import { Frame } from '@/ui/frame/Frame';

export default async function WorkLayout({ children }: { children: ReactNode }) {
  const asking = await whoAsks();
  if (!asking) redirect(countPeople(webStore().db) === 0 ? '/setup' : '/login');
  const { name, role } = asking.person;
  return (
    <Suspense>
      <Frame person={{ name, role }}>{children}</Frame>
    </Suspense>
  );
}
