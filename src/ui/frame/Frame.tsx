'use client';

import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { Link } from '@/ui/components/Link';
import { usePathname, useRouter } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { ActIcon } from '../components/ActIcon';
import { call } from '../lib/api';
import { Mark } from '../components/Mark';
import { useThemeChoice } from '../theme/ThemeRegistry';
import { FootLine } from './FootLine';
import { GoTo } from '../features/goTo/GoTo';
import { TimeStrip } from './TimeStrip';
import { useView } from '../lib/useView';
import { workspaces } from '../features/goTo/workspaces';
import { PlainButton } from '../components/PlainButton';
import { TextButton } from '../components/TextButton';

const keys = [
  ['/', 'to the filter; ↓ shows what may be written, Enter goes to the rows, Escape empties it'],
  ['Ctrl K', 'go to anything'],
  ['↑ ↓', 'from row to row; Enter opens the dossier'],
  ['→ ←', 'open and close a group of rows'],
  ['M', 'mark a row, or take the mark away'],
  ['Shift ↓ →', 'choose a block of cells; Ctrl C copies it'],
  ['[ ]', 'survey before, survey after'],
  ['1 … 5', 'in the Estate: what we have, how it is connected, what runs, what is wrong, what changed'],
  ['.', 'compare with the survey before, or stop comparing'],
  [
    '+ − 0',
    'on the map: nearer, farther, everything; Enter goes to what is chosen, P to its ports and back, F folds or opens its site, Shift and arrows move it, A puts everything back',
  ],
  ['Escape', 'close the panel'],
  ['?', 'this list'],
] as const;

/** What is the same on every screen: header, time strip, work area, foot line. */
export function Frame({ person, children }: { person: { name: string; role: string }; children: ReactNode }) {
  const path = usePathname();
  const router = useRouter();
  const view = useView();
  const [goingTo, setGoingTo] = useState(false);
  const [showingKeys, setShowingKeys] = useState(false);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { name, choose } = useThemeChoice();
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
    <div className="frame">
      <header className="header">
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
        <TextButton
          style={{ color: 'var(--ink-2)' }}
          aria-haspopup="menu"
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          {person.name}
        </TextButton>
        <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
          <MenuItem dense disabled>
            {person.role}
          </MenuItem>
          <MenuItem dense onClick={() => choose(name === 'day' ? 'night' : 'day')}>
            <ActIcon act={name === 'day' ? 'night' : 'day'} />
            {name === 'day' ? 'Night theme' : 'Day theme'}
          </MenuItem>
          <MenuItem
            dense
            onClick={() => {
              setAnchor(null);
              router.push(view.href('/settings/you', { sel: null }));
            }}
          >
            <ActIcon act="password" />
            Change the password
          </MenuItem>
          <MenuItem dense onClick={() => void signOut()}>
            <ActIcon act="leave" />
            Sign out
          </MenuItem>
        </Menu>
      </header>
      <TimeStrip />
      {children}
      <FootLine onKeys={() => setShowingKeys(true)} />
      <GoTo open={goingTo} onClose={() => setGoingTo(false)} acts={acts} />
      <Dialog open={showingKeys} onClose={() => setShowingKeys(false)} maxWidth="xs" aria-labelledby="keys-title">
        <DialogTitle id="keys-title">Keys</DialogTitle>
        <DialogContent>
          <dl className="facts">
            {keys.map(([key, words]) => [
              <dt key={key}>
                <kbd>{key}</kbd>
              </dt>,
              <dd key={words}>{words}</dd>,
            ])}
          </dl>
        </DialogContent>
      </Dialog>
    </div>
  );
}
