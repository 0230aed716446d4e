import type { HangingThere } from './usePortActs';

const shown = 6;

/** What would lose its link or its power, and what lies behind it. */
export function HangingList({ there, losing }: { there: HangingThere; losing: 'link' | 'power' }) {
  const { far, guests, cutOff, behind } = there;
  const hanging = [
    ...new Set([
      ...(far ? [`${far.device} ${far.port}`.trim()] : []),
      ...guests.filter((guest) => guest !== far?.device),
    ]),
  ];
  if (hanging.length === 0) return <p className="quiet">Nothing is known to hang on it.</p>;
  return (
    <div>
      <p>
        <b style={{ fontWeight: 600 }}>{hanging.slice(0, shown).join(', ')}</b>
        {hanging.length > shown && ` and ${hanging.length - shown} more`} {hanging.length === 1 ? 'loses' : 'lose'}{' '}
        {losing === 'link' ? 'the link' : 'power and link'}.
      </p>
      {cutOff.length > 0 && cutOff.join() !== far?.device && (
        <p className="small">
          No other way leads to {cutOff.slice(0, shown).join(', ')}
          {cutOff.length > shown && ` and ${cutOff.length - shown} more`}
          {behind > 0 && `, with ${behind} ${behind === 1 ? 'machine' : 'machines'}`}.
        </p>
      )}
      {cutOff.includes(there.device) && (
        <p>
          <b style={{ fontWeight: 600 }}>{there.device} itself is cut off: it cannot be taken back from here.</b>
        </p>
      )}
      {far?.passesOn && cutOff.length === 0 && (
        <p className="small quiet">The rest of the network keeps another way, as far as links are known.</p>
      )}
      <p className="small quiet">As the newest survey found it.</p>
    </div>
  );
}
