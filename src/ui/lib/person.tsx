'use client';

import { createContext, useContext, type ReactNode } from 'react';
import type { OwnField } from '@/core/own/ownField';

export type KeptOwnField = OwnField & { id: number };

/** Who looks at the page, and the own fields there were when it was made. */
export interface Person {
  name: string;
  role: string;
  fields?: KeptOwnField[];
}

const PersonContext = createContext<Person>({ name: '', role: 'viewer' });

export function PersonHere({ person, children }: { person: Person; children: ReactNode }) {
  return <PersonContext.Provider value={person}>{children}</PersonContext.Provider>;
}

export const usePerson = (): Person => useContext(PersonContext);

/** Whether the person may configure: credentials, collectors, people, how equipment is read. */
export const useMayConfigure = (): boolean => usePerson().role === 'administrator';

/** Whether the person may change data; administrators may all that operators may. */
export const useMayEdit = (): boolean => ['operator', 'administrator'].includes(usePerson().role);
