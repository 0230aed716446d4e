'use client';

import type { ComponentType } from 'react';
import { roleNames, type PersonRole } from '@/core/people/roles';
import { Link } from '@/ui/components/Link';
import { usePerson } from '../lib/person';
import { useView } from '../lib/useView';
import { settingsSections as sections, type SectionKey } from '../features/goTo/settingsSections';
import { fetched } from '../lib/fetched';

const bodies: Record<SectionKey, ComponentType> = {
  you: fetched(() => import('./You').then((module) => module.You)),
  people: fetched(() => import('./People').then((module) => module.People)),
  tokens: fetched(() => import('./Tokens').then((module) => module.Tokens)),
  mail: fetched(() => import('./Mail').then((module) => module.Mail)),
  sites: fetched(() => import('./sites/Sites').then((module) => module.Sites)),
  fields: fetched(() => import('./OwnFields').then((module) => module.OwnFields)),
  lists: fetched(() => import('./Lists').then((module) => module.Lists)),
  written: fetched(() => import('./WrittenList').then((module) => module.WrittenList)),
  readings: fetched(() => import('./Readings').then((module) => module.Readings)),
  signatures: fetched(() => import('./Signatures').then((module) => module.Signatures)),
  backups: fetched(() => import('./Backups').then((module) => module.Backups)),
  keeping: fetched(() => import('./Keeping').then((module) => module.Keeping)),
  acts: fetched(() => import('./AuditList').then((module) => module.AuditList)),
};

const rankOf = (role: string): number => roleNames.indexOf(role as PersonRole);

/** What holds for oneself and for the whole installation, a section at a time. */
export function SettingsWorkspace({ section }: { section: SectionKey }) {
  const view = useView();
  const { role } = usePerson();
  const mine = sections.filter((one) => rankOf(role) >= rankOf(one.role));
  const current = sections.find(({ key }) => key === section);
  const Body = bodies[section];
  return (
    <div className="settings">
      <nav className="sections" aria-label="Sections of Settings">
        {mine.map(({ key, title }) => (
          <Link
            key={key}
            href={view.href(`/settings/${key}`, { sel: null })}
            aria-current={key === section ? 'page' : undefined}
          >
            {title}
          </Link>
        ))}
      </nav>
      <main className="work scrolls">
        <div className="titleline">
          <h1>{current?.title}</h1>
          <span className="quiet">{current?.about}</span>
        </div>
        {mine.some(({ key }) => key === section) ? (
          <Body />
        ) : (
          <p className="quiet" style={{ padding: '0 16px' }}>
            This needs the role {current?.role}; you are {role}.
          </p>
        )}
      </main>
    </div>
  );
}
