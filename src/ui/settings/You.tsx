'use client';

import { Choices } from '../components/Choices';
import { PasswordForm } from '../features/password/PasswordForm';
import { usePerson } from '../lib/person';
import { useThemeChoice } from '../theme/ThemeRegistry';
import { OwnSessions } from './OwnSessions';

/** What is one's own: colours, password, and where one is signed in. */
export function You() {
  const { name, choose } = useThemeChoice();
  const person = usePerson();
  return (
    <div className="blocks">
      <section>
        <h2 className="sub">Appearance</h2>
        <Choices
          label="Theme"
          name="theme"
          value={name}
          choices={[
            { value: 'day', words: 'Day' },
            { value: 'night', words: 'Night' },
          ]}
          onChange={choose}
        />
        <p className="quiet small">Columns, panel width and theme are yours and stay.</p>
        <div style={{ marginTop: 24 }}>
          <OwnSessions />
        </div>
      </section>
      <section>
        <h2 className="sub">Password of {person.name}</h2>
        <PasswordForm name={person.name} current="The one you have" />
      </section>
    </div>
  );
}
