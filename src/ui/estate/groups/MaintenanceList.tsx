'use client';

import { useState } from 'react';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { moment } from '../../lib/format';
import { Glyph } from '../../components/Glyph';
import { useMayEdit } from '../../lib/person';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { MaintenanceForm } from './MaintenanceForm';
import { useMaintenance, type MaintenanceRow } from './useGroups';
import { TextButton } from '../../components/TextButton';

const glyphs = { now: 'fault', planned: 'silent', over: 'off' } as const;
const stateWords = { now: 'goes on', planned: 'is to come', over: 'is over' } as const;

/** Who works at what, and until when: what goes wrong there meanwhile is expected. */
export function MaintenanceList() {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useWritten();
  const { data: rows } = useMaintenance();
  const [done, setDone] = useState<Done | null>(null);
  const end = async (row: MaintenanceRow) => {
    try {
      const { edit } = await call<{ edit: number }>(`maintenance/${row.id}/end`, {
        method: 'POST',
        body: {},
        seen: row.version,
      });
      setDone({ words: `“${row.reason}” ${row.state === 'planned' ? 'is taken off the plan' : 'is ended'}.`, edit });
    } catch (error) {
      setDone({ words: (error as ApiProblem).words });
    }
    await written();
  };
  return (
    <div className="blocks wide">
      <section>
        <h2 className="sub">Maintenance</h2>
        <p className="quiet small">
          Devices in maintenance are told apart in Today and in checks, and can be left out of tables with{' '}
          <span className="mono">maintenance=no</span>.
        </p>
        {rows?.length === 0 ? (
          <p className="quiet">Nobody works at anything.</p>
        ) : (
          <table className="plain" aria-label="Maintenance">
            <thead>
              <tr>
                <th>State</th>
                <th>What is done</th>
                <th>Devices</th>
                <th>From</th>
                <th>Until</th>
                <th>Set by</th>
                <td />
              </tr>
            </thead>
            <tbody>
              {rows?.slice(0, 30).map((row) => (
                <tr key={row.id}>
                  <td>
                    <span className="state">
                      <Glyph name={glyphs[row.state]} word={stateWords[row.state]} />
                      {stateWords[row.state]}
                    </span>
                  </td>
                  <td>{row.reason}</td>
                  <td>
                    <Link className="mono" href={view.href('/estate', { where: row.where, sel: null })}>
                      {row.where}
                    </Link>
                  </td>
                  <td>{moment(row.from)}</td>
                  <td>{row.until ? moment(row.until) : <span className="quiet">somebody ends it</span>}</td>
                  <td>{row.by}</td>
                  <td>
                    {mayEdit && row.state !== 'over' && (
                      <TextButton
                        aria-label={`${row.state === 'planned' ? 'Take off' : 'End now'}: ${row.reason}`}
                        onClick={() => void end(row)}
                      >
                        {row.state === 'planned' ? 'Take off' : 'End now'}
                      </TextButton>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <UndoNote done={done} onDone={setDone} />
      </section>
      {mayEdit && (
        <section>
          <MaintenanceForm />
        </section>
      )}
    </div>
  );
}
