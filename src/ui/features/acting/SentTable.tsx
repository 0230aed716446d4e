import type { PlannedSet } from '@/core/acting/portAct';

/** What goes over the wire, object by object. */
export function SentTable({ sets, credential, device }: { sets: PlannedSet[]; credential: string; device: string }) {
  return (
    <div>
      <p className="small quiet">
        This is sent to {device} by SNMP v3, as “{credential}”:
      </p>
      <table className="plain sent">
        <thead>
          <tr>
            <th scope="col">Object</th>
            <th scope="col">Now</th>
            <th scope="col">Becomes</th>
          </tr>
        </thead>
        <tbody>
          {sets.map(({ object, oid, was, words, afterSeconds }) => (
            <tr key={`${oid} ${words}`}>
              <td>
                <span className="mono">{object}</span>
                <div className="mono small quiet">{oid}</div>
              </td>
              <td>{was}</td>
              <td>
                {words}
                {afterSeconds > 0 && <div className="small quiet">after {afterSeconds} s</div>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
