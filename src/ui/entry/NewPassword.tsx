'use client';

import { Mark } from '../components/Mark';
import { PasswordForm } from '../features/password/PasswordForm';

/** Whoever was given a password by an administrator chooses one of their own before anything else. */
export function NewPassword({ name, to }: { name: string; to: string }) {
  return (
    <div className="entry">
      <main>
        <span className="brand">
          <Mark />
          Bolide
        </span>
        <h1>Choose your password</h1>
        <p className="quiet">The one you have was given to you: nobody but you should know the next.</p>
        <PasswordForm name={name} current="The one you were given" done={() => window.location.assign(to)} />
      </main>
    </div>
  );
}
