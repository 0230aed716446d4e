import type { ReactNode } from 'react';
import { whoLooksHere } from '@/server/access/looking';
import { ownFieldsNow } from '@/server/own/fieldsNow';
import { Frame } from '@/ui/frame/Frame';
import { PersonHere } from '@/ui/lib/person';

export default async function WorkLayout({ children }: { children: ReactNode }) {
  const person = await whoLooksHere();
  const { name, role } = person;
  return (
    <PersonHere person={{ name, role, fields: ownFieldsNow() }}>
      <Frame person={{ name, role }}>{children}</Frame>
    </PersonHere>
  );
}
