'use client';

import { useState } from 'react';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { Glyph } from '../../components/Glyph';
import { useMayEdit } from '../../lib/person';
import { ProblemNote } from '../../components/ProblemNote';
import { Subviews } from '../Subviews';
import { GroupForm } from './GroupForm';
import { MaintenanceList } from './MaintenanceList';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { useGroups, type GroupRow } from './useGroups';
import { TextButton } from '../../components/TextButton';

/** What do we speak of together? Groups of devices and ports, and what is being worked at. */
export function GroupsView() {
  const view = useView();
  const mayEdit = useMayEdit();
  const { data: groups, error } = useGroups();
  const written = useWritten();
  const [editing, setEditing] = useState<GroupRow | null>(null);
  const [done, setDone] = useState<Done | null>(null);
  const remove = async ({ id, name, version }: GroupRow) => {
    try {
      const { edit } = await call<{ edit: number }>(`groups/${id}`, { method: 'DELETE', seen: version });
      setDone({ words: `“${name}” is deleted.`, edit });
    } catch (problem) {
      setDone({ words: (problem as ApiProblem).words });
    }
    await written();
  };
  return (
    <main className="work scrolls">
      <div className="titleline">
        <h1>Groups</h1>
        <span className="quiet">{groups?.length ?? ''}</span>
      </div>
      <Subviews current="groups" />
      <div className="blocks wide">
        <section>
          <h2 className="sub">Groups</h2>
          <p className="quiet small">
            A group is a word in every filter: <span className="mono">group=&quot;North ring&quot;</span> in devices and
            ports, <span className="mono">device.group=&quot;North ring&quot;</span> in what belongs to devices.
          </p>
          {error && <ProblemNote problem={error} />}
          {groups?.length === 0 && (
            <p className="quiet">
              There are none yet.{mayEdit && ' Make one here, or put marked rows of a table into one under Edit.'}
            </p>
          )}
          {groups && groups.length > 0 && (
            <table className="plain" aria-label="Groups">
              <thead>
                <tr>
                  <th>Name</th>
                  <th>Of</th>
                  <th>Made by</th>
                  <th className="number">Rows</th>
                  <th>Note</th>
                  <td />
                </tr>
              </thead>
              <tbody>
                {nested(groups).map(({ group, depth }) => (
                  <tr key={group.id}>
                    <td style={{ paddingLeft: depth * 16 }}>
                      {depth > 0 && (
                        <span aria-hidden className="quiet">
                          └{' '}
                        </span>
                      )}
                      <Link
                        href={view.href('/estate', {
                          of: group.thing === 'devices' ? null : group.thing,
                          where: `group="${group.name}"`,
                          sel: null,
                        })}
                      >
                        {group.name}
                      </Link>
                    </td>
                    <td>{group.thing}</td>
                    <td>
                      {group.kind === 'filter' ? <span className="mono">{group.where}</span> : `${group.named} named`}
                      {group.mistake && (
                        <div className="bad small" role="alert">
                          <Glyph name="fault" word="mistake" /> {group.mistake}
                        </div>
                      )}
                    </td>
                    <td className="number">{group.rows.toLocaleString('en')}</td>
                    <td className="quiet">{group.note}</td>
                    <td style={{ whiteSpace: 'nowrap' }}>
                      {mayEdit && (
                        <>
                          <TextButton onClick={() => setEditing(group)}>Change</TextButton>{' '}
                          <TextButton aria-label={`Delete the group ${group.name}`} onClick={() => void remove(group)}>
                            Delete
                          </TextButton>
                        </>
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
            <GroupForm
              key={editing?.id ?? 'new'}
              editing={editing}
              groups={groups ?? []}
              onDone={() => setEditing(null)}
            />
          </section>
        )}
      </div>
      <MaintenanceList />
    </main>
  );
}

/** Groups with those that lie in them right behind. */
function nested(groups: GroupRow[]): { group: GroupRow; depth: number }[] {
  const list: { group: GroupRow; depth: number }[] = [];
  const visit = (within: string | null, depth: number) => {
    for (const group of groups) {
      if ((group.within?.toLowerCase() ?? null) !== within) continue;
      list.push({ group, depth });
      visit(group.name.toLowerCase(), depth + 1);
    }
  };
  visit(null, 0);
  return list;
}
