import { formatSpeed } from '@/core/values/quantity';
import { Glyph, portGlyph } from '../components/Glyph';
import type { DrawnLink, DrawnPlate, Picture } from './picture';
import { joinedIn, portOfSel, type PortsNear } from './sockets';

const [cardWidth, cardHeight] = [280, 96];

/** What the pointer rests on: a port with who is plugged in, a link with who says so, a device. */
export function MapCard({
  sel,
  x,
  y,
  picture,
  ports,
}: {
  sel: string;
  x: number;
  y: number;
  picture: Picture;
  ports: PortsNear;
}) {
  const left = Math.max(8, Math.min(x + 14, window.innerWidth - cardWidth - 10));
  const top = y + 18 + cardHeight > window.innerHeight ? y - cardHeight - 8 : y + 18;
  const told = words(sel, picture, ports);
  return (
    told && (
      <div className="portcard small" role="tooltip" style={{ left, top }}>
        {told}
      </div>
    )
  );
}

function words(sel: string, picture: Picture, ports: PortsNear) {
  const own = portOfSel(sel);
  const plate = picture.plates.find(({ device }) => sel === `device:${device.id}` || own?.device === device.id);
  const port = own && ports.get(own.device)?.ports.find(({ name }) => name === own.name);
  if (port && plate) {
    const link = joinedIn(picture)(plate.device.id, port);
    const far =
      link &&
      (link.from === plate ? [link.to.device.name, link.link.b.port] : [link.from.device.name, link.link.a.port]);
    return (
      <>
        <div>
          <b>
            {plate.device.name} {port.name}
          </b>{' '}
          {port.alias}
        </div>
        <div className="state">
          <Glyph name={portGlyph({ ...port })} />
          {port.admin === 'down'
            ? 'switched off'
            : port.disabledBy
              ? `switched off by the device: ${port.disabledBy}`
              : port.oper}
          {port.oper === 'up' && port.speedBps
            ? `, ${formatSpeed(port.speedBps)} ${port.duplex === 'unknown' ? '' : port.duplex}`
            : ''}
        </div>
        <div>
          {port.vlan === null ? 'no untagged VLAN' : `VLAN ${port.vlan}`}
          {port.carries && `, carries the VLAN ${port.carries}`}
          {port.lag && `, in ${port.lag}`}
        </div>
        {far ? (
          <div>
            <b>{far.join(' ').trim()}</b>
          </div>
        ) : port.pluggedIn ? (
          <div>
            <b>{port.pluggedIn}</b> <span className="quiet">{port.how}</span>
          </div>
        ) : (
          <div className="quiet">{port.oper === 'up' ? 'nothing was heard' : 'nothing plugged in'}</div>
        )}
      </>
    );
  }
  if (plate && !own) return <DeviceWords plate={plate} />;
  const link = picture.links.find((drawn) => sel === `link:${drawn.link.id}`);
  return link ? <LinkWords drawn={link} /> : null;
}

function DeviceWords({ plate: { device, shown } }: { plate: DrawnPlate }) {
  const count = (number: number, one: string, many: string) => number > 0 && `${number} ${number === 1 ? one : many}`;
  return (
    <>
      <div>
        <b>{device.name}</b> <span className="quiet">{device.role.replace('-', ' ')}</span>
      </div>
      {device.model && <div>{device.model}</div>}
      <div>
        {[device.state, count(device.endpoints, 'endpoint', 'endpoints'), count(device.faults, 'fault', 'faults')]
          .filter(Boolean)
          .join(', ')}
      </div>
      {device.works?.map((words) => (
        <div key={words} style={{ color: 'var(--ember)' }}>
          {words}
        </div>
      ))}
      {shown.words && <div className="quiet">{shown.words}</div>}
    </>
  );
}

const sureness = { confirmed: 'both ends say so', claimed: 'one end says so', concluded: 'concluded' } as const;

function LinkWords({ drawn: { link, from, to } }: { drawn: DrawnLink }) {
  return (
    <>
      <div>
        <b>
          {from.device.name} {link.a.port}
        </b>{' '}
        —{' '}
        <b>
          {to.device.name} {link.b.port}
        </b>
      </div>
      <div>
        {[
          link.speedBps !== null && formatSpeed(link.speedBps),
          link.kind === 'lag' && `${link.members} cables`,
          sureness[link.confidence],
          link.blocked && 'rests',
        ]
          .filter(Boolean)
          .join(', ')}
      </div>
      {link.issues.map((issue) => (
        <div key={issue} className="state">
          <Glyph name="fault" />
          {issue}
        </div>
      ))}
    </>
  );
}
