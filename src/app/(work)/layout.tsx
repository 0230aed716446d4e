import { redirect } from 'next/navigation';
import { Suspense, type ReactNode } from 'react';
import { needsSetup, whoAsks } from '@/server/access/session';
import { Frame } from '@/ui/frame/Frame';

export default async function WorkLayout({ children }: { children: ReactNode }) {
  const asking = await whoAsks();
  if (!asking) redirect(needsSetup() ? '/setup' : '/login');
  const { name, role } = asking.person;
  return (
    <Suspense>
      <Frame person={{ name, role }}>{children}</Frame>
    </Suspense>
  );
}
