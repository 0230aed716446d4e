'use client';

import { spoken } from '@/core/values/spoken';
import { useMemo } from 'react';
import { Link } from '@/ui/components/Link';
import { compareNaturally } from '@/core/values/naturalOrder';
import { useView } from '../lib/useView';
import { Glyph } from '../components/Glyph';
import { cutWords } from './cutWords';
import type { DrawnBundle, DrawnSite, Picture } from './picture';
import { TextButton } from '../components/TextButton';

const written = (site: string) => `site="${site}"`;

/** A site: what is in it, where it leads, what is wrong there. */
export function SiteDossier({
  site,
  picture,
  onChoose,
  onNear,
}: {
  site: DrawnSite;
  picture: Picture;
  onChoose: (sel: string) => void;
  onNear: () => void;
}) {
  const view = useView();
  const name = site.bay.site;
  const roles = new Map<string, number>();
  for (const { device } of site.devices) roles.set(device.role, (roles.get(device.role) ?? 0) + 1);
  const odd = site.devices.filter(({ mark }) => mark !== 'none');
  const bundles = useMemo(
    () => picture.bundles.filter(({ from, to }) => from === site || to === site),
    [picture, site],
  );
  const faulty = picture.links.filter(
    ({ link, from, to }) => link.issues.length > 0 && (from.device.site === name || to.device.site === name),
  );
  const onlyWays = waysWithoutSpare(bundles);
  return (
    <>
      <div className="small quiet">site</div>
      <h2>{name || 'no site'}</h2>
      <dl className="facts">
        <dt>Devices</dt>
        <dd>
          <Link href={view.href('/estate', { where: written(name), sel: null })}>{site.devices.length}</Link>
        </dd>
        {[...roles]
          .sort((x, y) => y[1] - x[1] || compareNaturally(x[0], y[0]))
          .map(([role, count]) => [
            <dt key={role} className="quiet">
              {spoken(role)}
            </dt>,
            <dd key={`${role} count`}>{count}</dd>,
          ])}
        <dt>Endpoints</dt>
        <dd>
          <Link href={view.href('/estate', { of: 'endpoints', where: written(name), sel: null })}>
            {site.endpoints}
          </Link>
        </dd>
      </dl>
      <p style={{ marginTop: 8 }}>
        <TextButton onClick={onNear}>Only this site and what it is joined to</TextButton>
      </p>
      {odd.length > 0 && (
        <section className="section">
          <h3>Not as it should be</h3>
          <ul>
            {odd.map(({ device, mark }) => (
              <li key={device.id} style={{ padding: '2px 0' }}>
                <TextButton onClick={() => onChoose(`device:${device.id}`)}>
                  <span className="state">
                    <Glyph name={mark === 'silent' ? 'silent' : mark === 'fault' ? 'fault' : 'later'} />
                    {device.name}
                  </span>
                </TextButton>{' '}
                <span className="quiet small">
                  {mark === 'silent'
                    ? 'does not answer'
                    : mark === 'fault'
                      ? device.faults > 1
                        ? `${device.faults} faults`
                        : device.faults === 1
                          ? 'one fault'
                          : 'answers by half'
                      : mark === 'gone'
                        ? 'gone'
                        : 'new'}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {faulty.length > 0 && (
        <section className="section">
          <h3>Links with something wrong</h3>
          <ul className="small">
            {faulty.map(({ link }) => (
              <li key={link.id} style={{ padding: '2px 0' }}>
                <TextButton onClick={() => onChoose(`link:${link.id}`)}>{link.issues[0]}</TextButton>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section className="section">
        <h3>Joined to</h3>
        {bundles.length === 0 && <p className="quiet">No link leads out of it that is known.</p>}
        <table className="plain">
          <tbody>
            {bundles.map((bundle) => {
              const other = bundle.from === site ? bundle.to : bundle.from;
              return (
                <tr key={other.bay.site}>
                  <td>
                    <TextButton onClick={() => onChoose(`site:${other.bay.site}`)}>
                      {other.bay.site || 'no site'}
                    </TextButton>
                  </td>
                  <td className="number">
                    {bundle.links.length} {bundle.links.length === 1 ? 'link' : 'links'}
                  </td>
                  <td className="quiet small">
                    {bundle.links
                      .map(({ from, to }) => `${from.device.name} – ${to.device.name}`)
                      .slice(0, 3)
                      .join(', ')}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {onlyWays.map(({ id, words, devices, endpoints, spareLost }) => (
          <p key={id} className="small" style={{ marginTop: 6 }}>
            <span className="state">
              <Glyph name="later" word="one way only" />
              <span>
                <TextButton onClick={() => onChoose(`link:${id}`)}>{words}</TextButton> has no spare
                {spareLost && <> any more ({spareLost})</>}: without it {cutWords(devices, endpoints)} cut off.
              </span>
            </span>
          </p>
        ))}
      </section>
      <p className="section small">
        <Link href={view.href('/print/switchboard', { where: written(name), sel: null })}>Port report of the site</Link>
      </p>
    </>
  );
}

/** Links out of a site whose loss parts the network, with what would be cut off. */
const waysWithoutSpare = (bundles: readonly DrawnBundle[]) =>
  bundles.flatMap(({ links }) =>
    links.flatMap(({ link: { id, cuts, spareLost }, from, to }) =>
      cuts ? [{ id, words: `${from.device.name} – ${to.device.name}`, ...cuts, spareLost }] : [],
    ),
  );
