'use client';

import { useState } from 'react';
import { netOf, overlays, vlanOf, type Overlay } from '@/core/map/overlay';
import { useView } from '../lib/useView';
import { useThingPage } from '../components/table/thingPages';
import { PlainSelect } from '../components/PlainSelect';
import { PlainInput } from '../components/PlainInput';

const mostNetworks = 500;

type Kind = (typeof overlays)[number] | 'VLAN' | 'network';

/** What the map is coloured by; of a VLAN its number, of a network which one. */
export function ColourChoice({ overlay, onChoose }: { overlay: Overlay; onChoose: (overlay: string) => void }) {
  const view = useView();
  const [vlan, network] = [vlanOf(overlay), netOf(overlay)];
  const [asked, setAsked] = useState<Kind | null>(null);
  const kind: Kind = asked ?? (vlan !== null ? 'VLAN' : network !== null ? 'network' : (overlay as Kind));
  // what is typed stays as it is typed; null is the VLAN of the address
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? String(vlan ?? '');
  const isVlan = (text: string) => /^\d{1,4}$/.test(text) && Number(text) >= 1 && Number(text) <= 4094;
  const isWrong = shown.trim() !== '' && !isVlan(shown.trim());
  const networks = useThingPage(
    'networks',
    { survey: view.survey, against: null, where: '', size: mostNetworks },
    kind === 'network',
  );
  const choose = (next: Kind) => {
    const more = next === 'VLAN' || next === 'network';
    setAsked(more ? next : null);
    if (!more) onChoose(next);
  };
  return (
    <span className="mapcolour small">
      <label className="quiet">
        coloured by{' '}
        <PlainSelect
          value={kind}
          aria-label="The map is coloured by"
          onChange={(event) => choose(event.target.value as Kind)}
        >
          {[...overlays.filter((one) => one !== 'changes' || view.against !== null), 'VLAN', 'network'].map((one) => (
            <option key={one}>{one}</option>
          ))}
        </PlainSelect>
      </label>
      {kind === 'VLAN' && (
        <>
          <PlainInput
            type="text"
            inputMode="numeric"
            aria-label="Number of the VLAN"
            aria-invalid={isWrong || undefined}
            placeholder="VLAN"
            size={6}
            value={shown}
            onChange={({ target }) => {
              setTyped(target.value);
              if (isVlan(target.value.trim())) onChoose(`vlan:${target.value.trim()}`);
            }}
            onBlur={() => !isWrong && setTyped(null)}
          />
          {isWrong && (
            <span role="alert" className="bad">
              a VLAN is a number from 1 to 4094
              {vlan !== null && `; shown is ${vlan}`}
            </span>
          )}
        </>
      )}
      {kind === 'network' && (
        <PlainSelect
          aria-label="Which network"
          value={network ?? ''}
          onChange={(event) => onChoose(`net:${event.target.value}`)}
        >
          {network === null && (
            <option value="">
              {networks.isPending
                ? 'reading the networks…'
                : networks.data?.total === 0
                  ? 'no network is known'
                  : 'choose a network'}
            </option>
          )}
          {[
            ...new Set([...(network === null ? [] : [network]), ...(networks.data?.rows.map(({ id }) => id) ?? [])]),
          ].map((id) => (
            <option key={id}>{id}</option>
          ))}
        </PlainSelect>
      )}
    </span>
  );
}
