'use client';

import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { ActIcon } from '../components/ActIcon';
import { useThemeChoice } from '../theme/ThemeRegistry';

interface PersonMenuProps {
  role: string;
  anchor: HTMLElement;
  onClose: () => void;
  onPassword: () => void;
  onSignOut: () => void;
}

/** What a person does at their own name: theme, password, leaving. */
export function PersonMenu({ role, anchor, onClose, onPassword, onSignOut }: PersonMenuProps) {
  const { name, choose } = useThemeChoice();
  return (
    <Menu open anchorEl={anchor} onClose={onClose}>
      <MenuItem dense disabled>
        {role}
      </MenuItem>
      <MenuItem
        dense
        onClick={() => {
          onClose();
          choose(name === 'day' ? 'night' : 'day');
        }}
      >
        <ActIcon act={name === 'day' ? 'night' : 'day'} />
        {name === 'day' ? 'Night theme' : 'Day theme'}
      </MenuItem>
      <MenuItem
        dense
        onClick={() => {
          onClose();
          onPassword();
        }}
      >
        <ActIcon act="password" />
        Change the password
      </MenuItem>
      <MenuItem dense onClick={onSignOut}>
        <ActIcon act="leave" />
        Sign out
      </MenuItem>
    </Menu>
  );
}
