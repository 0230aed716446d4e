'use client';

import { writtenValue } from '@/core/filter/written';
import { Link } from '@/ui/components/Link';
import { useView } from '../../../lib/useView';
import type { SectionProps } from './dossierTypes';
import type { ThingRow } from '../../../lib/api';

const shownAtFirst = 6;

/** With whom a device talks: whom it asks, and who asks it, each with the processes at both ends. */
export function TalkSection({ dossier: { conversations, device, talk, here }, id, whole }: SectionProps) {
  const deviceId = Number(id);
  const { name } = device;
  const asks = conversations.filter((row) => endOf(row, 'client') === deviceId);
  const isAsked = conversations.filter((row) => endOf(row, 'server') === deviceId);
  if (conversations.length === 0) return null;
  // by its name, where no other device has it
  const term = here.startsWith('device.id') ? `id=${deviceId}` : `name=${writtenValue(name)}`;
  return (
    <section className="section" aria-label="Talks">
      <h3>Talks</h3>
      <Side words="asks" rows={asks} count={talk.asks} far="server" where={`client.${term}`} whole={whole} />
      <Side
        words="is asked by"
        rows={isAsked}
        count={talk.isAsked}
        far="client"
        where={`server.${term}`}
        whole={whole}
      />
    </section>
  );
}

const endOf = (row: ThingRow, end: 'client' | 'server') => (row[end] as { deviceId: number | null }).deviceId;

interface SideProps {
  words: string;
  rows: ThingRow[];
  count: number;
  far: 'client' | 'server';
  where: string;
  whole: boolean;
}

function Side({ words, rows, count, far, where, whole }: SideProps) {
  const view = useView();
  if (rows.length === 0) return null;
  const near = far === 'server' ? 'client' : 'server';
  const listed = whole ? rows : rows.slice(0, shownAtFirst);
  return (
    <>
      <p className="small quiet" style={{ marginTop: 4 }}>
        {words}
      </p>
      <table className="plain">
        <tbody>
          {listed.map((row) => (
            <tr key={row.id}>
              <td>{String(row[`${near}Process`]) || <span className="quiet">not told</span>}</td>
              <td>
                <Link href={view.href('/estate', { of: 'conversations', sel: `conversation:${row.id}` })}>
                  {[row[`${far}Process`], row[`${far}Name`]].filter(Boolean).join(' on ')}
                </Link>
              </td>
              <td className="mono quiet">
                {String(row.protocol)} {String(row.port)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {listed.length < count && (
        <p className="small" style={{ marginTop: 4 }}>
          <Link href={view.href('/dependencies', { of: 'talk', where, sel: null })}>
            all {count.toLocaleString('en')} of them
          </Link>
        </p>
      )}
    </>
  );
}
