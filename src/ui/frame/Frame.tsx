'use client';

import { Link } from '@/ui/components/Link';
import { usePathname } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { ActIcon } from '../components/ActIcon';
import { call } from '../lib/api';
import { Mark } from '../components/Mark';
import { useThemeChoice } from '../theme/ThemeRegistry';
import { FootLine } from './FootLine';
import { DoneTray } from '../features/edits/DoneTray';
import { GoToSoon } from '../features/goTo/GoToSoon';
import { TimeStrip } from './TimeStrip';
import { toTheWork, useKeptFocus } from './useKeptFocus';
import { useOpening } from '../lib/navigating';
import { useGo } from '../lib/useGo';
import { useView } from '../lib/useView';
import { workspaces } from '../features/goTo/workspaces';
import { PlainButton } from '../components/PlainButton';
import { TextButton } from '../components/TextButton';
import { fetched } from '../lib/fetched';

const KeysDialog = fetched(() => import('./KeysDialog').then((module) => module.KeysDialog));
const PersonMenu = fetched(() => import('./PersonMenu').then((module) => module.PersonMenu));

/** What is the same on every screen: header, time strip, work area, foot line. */
export function Frame({ person, children }: { person: { name: string; role: string }; children: ReactNode }) {
  const path = usePathname();
  const opening = useOpening();
  const go = useGo();
  const view = useView();
  const [goingTo, setGoingTo] = useState(false);
  const [showingKeys, setShowingKeys] = useState(false);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { name, choose } = useThemeChoice();
  useKeptFocus();
  useHotkeys(
    'ctrl+k, meta+k',
    (event) => {
      event.preventDefault();
      setGoingTo(true);
    },
    { enableOnFormTags: true },
  );
  useHotkeys('?', () => setShowingKeys(true), { useKey: true });
  useHotkeys('escape', () => view.set({ sel: null }));
  const signOut = async () => {
    await call('session', { method: 'DELETE' });
    window.location.assign('/login');
  };
  const act = (words: string, more: string, act: () => void) => ({ key: words, words, more, rank: 0, act });
  const acts = [
    act(name === 'day' ? 'Night theme' : 'Day theme', 'change the colours', () =>
      choose(name === 'day' ? 'night' : 'day'),
    ),
    act('Keys', 'what the keyboard does', () => setShowingKeys(true)),
    act('Sign out', person.name, () => void signOut()),
  ];
  return (
    <div className="frame" aria-busy={opening !== null}>
      <header className="header">
        <PlainButton className="skip" onClick={toTheWork}>
          Skip to the work
        </PlainButton>
        <Link href={view.href('/today')} className="brand">
          <Mark />
          Bolide
        </Link>
        <nav className="workspaces" aria-label="Workspaces">
          {workspaces.map((workspace) => (
            <Link
              key={workspace.path}
              href={view.href(workspace.path)}
              aria-current={path.startsWith(workspace.path) ? 'page' : undefined}
            >
              {workspace.name}
            </Link>
          ))}
        </nav>
        <PlainButton className="goto" aria-keyshortcuts="Control+K" onClick={() => setGoingTo(true)}>
          <ActIcon act="search" />
          Go to… <kbd>Ctrl K</kbd>
        </PlainButton>
        <TextButton className="who" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
          {person.name}
        </TextButton>
        {anchor && (
          <PersonMenu
            role={person.role}
            anchor={anchor}
            onClose={() => setAnchor(null)}
            onPassword={() => go(view.href('/settings/you', { sel: null }))}
            onSignOut={() => void signOut()}
          />
        )}
      </header>
      <TimeStrip />
      {children}
      <DoneTray />
      <FootLine onKeys={() => setShowingKeys(true)} />
      <GoToSoon open={goingTo} onClose={() => setGoingTo(false)} acts={acts} />
      {showingKeys && <KeysDialog onClose={() => setShowingKeys(false)} />}
    </div>
  );
}
