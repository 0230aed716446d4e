'use client';

import { PasswordForm } from '../features/password/PasswordForm';
import { EntryPage } from './EntryPage';

/** Whoever was given a password by an administrator chooses one of their own before anything else. */
export function NewPassword({ name, to }: { name: string; to: string }) {
  return (
    <EntryPage
      title="Choose your password"
      about="The one you have was given to you: nobody but you should know the next."
    >
      <PasswordForm name={name} current="The one you were given" done={() => window.location.assign(to)} />
    </EntryPage>
  );
}
