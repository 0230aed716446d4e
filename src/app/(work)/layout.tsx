import { redirect } from 'next/navigation';
import type { ReactNode } from 'react';
import { needsSetup, whoLooks } from '@/server/access/session';
import { ownFieldsNow } from '@/server/own/fieldsNow';
import { Frame } from '@/ui/frame/Frame';
import { PersonHere } from '@/ui/lib/person';

export default async function WorkLayout({ children }: { children: ReactNode }) {
  const person = await whoLooks();
  if (!person) redirect(needsSetup() ? '/setup' : '/login');
  const { name, role } = person;
  return (
    <PersonHere person={{ name, role, fields: ownFieldsNow() }}>
      <Frame person={{ name, role }}>{children}</Frame>
    </PersonHere>
  );
}
