'use client';

import type { SitePreview } from './useSitePreview';
import { Scrolled } from '../../components/Scrolled';

/** Which devices would stand elsewhere, and which nowhere, before rules are saved. */
export function SiteChanges({ preview: { without, changed, changes, byHand } }: { preview: SitePreview }) {
  return (
    <section aria-label="What would change" aria-live="polite">
      <p className="small">
        {without.devices === 0
          ? 'Every device has a site.'
          : `${without.devices.toLocaleString('en')} ${without.devices === 1 ? 'device has' : 'devices have'} no site: ${without.first.join(', ')}${without.devices > without.first.length ? ' …' : ''}.`}{' '}
        {byHand > 0 && <span className="quiet">{byHand} by hand. </span>}
        {changed === 0 ? (
          <span className="quiet">Nothing would change.</span>
        ) : (
          <b>
            {changed.toLocaleString('en')} {changed === 1 ? 'device' : 'devices'} would stand elsewhere:
          </b>
        )}
      </p>
      {changed > 0 && (
        <Scrolled label="Devices that would stand elsewhere" width={620}>
          <table className="plain">
            <thead>
              <tr>
                <th>Device</th>
                <th>Now</th>
                <th>Then</th>
              </tr>
            </thead>
            <tbody>
              {changes.map(({ id, device, before, after }) => (
                <tr key={id}>
                  <td>{device}</td>
                  <td className="quiet">{before || 'nowhere'}</td>
                  <td>{after || 'nowhere'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolled>
      )}
    </section>
  );
}
