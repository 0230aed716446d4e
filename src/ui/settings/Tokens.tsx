'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { areaNames, areaWords } from '@/core/people/areas';
import { Fold } from '../components/Fold';
import { OrderedChoice } from '../components/form/OrderedChoice';
import { DayInput } from '../components/form/DayInput';
import { SaveLine } from '../components/form/SaveLine';
import { SavingForm } from '../components/form/SavingForm';
import { SelectInput } from '../components/form/SelectInput';
import { TextInput } from '../components/form/TextInput';
import { useSavingForm } from '../components/form/useSavingForm';
import { TextButton } from '../components/TextButton';
import { useWritten } from '../features/edits/useWritten';
import { call, type ApiProblem } from '../lib/api';
import { ago, moment, wholeDay } from '../lib/format';
import { useMayConfigure } from '../lib/person';
import { roleChoices } from './roleChoices';

interface TokenRow {
  id: number;
  name: string;
  role: string;
  createdAt: string;
  expiresOn: string | null;
  usedAt: string | null;
  areas: string[] | null;
}

/** What opens the API to scripts. */
export function Tokens() {
  const administrator = useMayConfigure();
  return (
    <div className="blocks">
      <section>
        <p className="quiet">
          Every table shows the request that returns it, under Export; all calls are described at{' '}
          <a href="/api">/api</a>. A script sends its token as <span className="mono">Authorization: Bearer …</span>.
        </p>
        {administrator ? (
          <TokenList />
        ) : (
          <p className="quiet" style={{ marginTop: 10 }}>
            Administrators make and revoke tokens.
          </p>
        )}
      </section>
      {administrator && (
        <section>
          <AddToken />
        </section>
      )}
    </div>
  );
}

function TokenList() {
  const written = useWritten();
  const { data, error } = useQuery<TokenRow[], ApiProblem>({
    queryKey: ['tokens'],
    queryFn: async () => (await call<{ rows: TokenRow[] }>('tokens')).rows,
  });
  const [told, setTold] = useState('');
  const revoke = async ({ id, name }: TokenRow) => {
    try {
      await call(`tokens/${id}`, { method: 'DELETE' });
      setTold(`“${name}” opens nothing any more.`);
    } catch (problem) {
      setTold((problem as ApiProblem).words);
    }
    await written();
  };
  if (error) return <p className="quiet">{error.words}</p>;
  return (
    <>
      {data?.length === 0 && <p className="quiet">There is no token yet.</p>}
      {data && data.length > 0 && (
        <table className="plain" aria-label="Tokens" style={{ marginTop: 10 }}>
          <thead>
            <tr>
              <th>Token</th>
              <th>May as</th>
              <th>Opens</th>
              <th>Made</th>
              <th>Used last</th>
              <th>Until</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {data.map((row) => (
              <tr key={row.id}>
                <td>{row.name}</td>
                <td>{row.role}</td>
                <td>{row.areas ? row.areas.join(', ') : 'all parts'}</td>
                <td>{moment(row.createdAt)}</td>
                <td>{row.usedAt ? ago(row.usedAt) : <span className="quiet">never</span>}</td>
                <td>{row.expiresOn ? wholeDay(row.expiresOn) : <span className="quiet">without an end</span>}</td>
                <td>
                  <TextButton aria-label={`Revoke ${row.name}`} onClick={() => void revoke(row)}>
                    Revoke
                  </TextButton>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {told && (
        <p role="status" className="small">
          {told}
        </p>
      )}
    </>
  );
}

const blank = { name: '', role: 'viewer', areas: [] as string[], expiresOn: null as string | null };

function AddToken() {
  const written = useWritten();
  const [made, setMade] = useState<{ name: string; token: string } | null>(null);
  const saving = useSavingForm<typeof blank, { name: string; token: string }>({
    values: blank,
    save: ({ areas, ...body }) =>
      call('tokens', { method: 'POST', body: { ...body, areas: areas.length > 0 ? areas : null } }),
    done: async (answer) => {
      setMade(answer);
      await written();
      return { values: blank };
    },
  });
  const areas = saving.form.watch('areas');
  return (
    <SavingForm of={saving} prefix="token" style={{ maxWidth: 420 }}>
      <h2 className="sub">Make a token</h2>
      <TextInput name="name" label="For" help="the script or machine that has it" />
      <SelectInput name="role" label="May as" choices={roleChoices} />
      <Fold
        title="What it opens"
        says={areas.length > 0 ? areas.join(', ') : 'all parts of the API that its role may'}
        isWrong={saving.form.getFieldState('areas').invalid}
      >
        <OrderedChoice
          name="areas"
          label="Parts of the API; none chosen is all"
          choices={areaNames}
          words={areaWords}
          numbered={false}
        />
      </Fold>
      <DayInput name="expiresOn" label="Until" help="its last day; empty: without an end" />
      <SaveLine of={saving} words="Make the token" variant="outlined" />
      {made && (
        <div role="status">
          <p>
            The token of <b>{made.name}</b>, shown this once:
          </p>
          <pre className="mono secret">{made.token}</pre>
        </div>
      )}
    </SavingForm>
  );
}
