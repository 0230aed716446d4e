import type { SimEstate, SimPort } from './model';

/** What is changed of a port: switched on or off, fed or not, named. */
export interface PortChange {
  admin?: 'up' | 'down';
  power?: boolean;
  alias?: string;
}

/** Whoever changes the network by setting objects of its agents. */
export interface Hands {
  switchPort(device: string, port: string, change: PortChange): void;
}

/** pethPsePortDetectionStatus of RFC 3621. */
const powering = { disabled: 1, searching: 2, delivering: 3 } as const;

/**
 * Changes a port of the network, and what follows from it: a link is up as long as both of its ends are switched on, and what a port feeds is off without the power.
 * The port at the other end of a cable goes up and down with it.
 */
export function switchPort(
  estate: SimEstate,
  deviceName: string,
  portName: string,
  change: PortChange,
  at: number,
): void {
  const port = portOf(estate, deviceName, portName);
  if (!port) return;
  if (change.alias !== undefined) port.alias = change.alias;
  if (change.admin === undefined && change.power === undefined) return;
  const cable = estate.cables.find(({ a, b }) =>
    [a, b].some((end) => end.device === deviceName && end.port === portName),
  );
  const far = cable && (cable.a.device === deviceName && cable.a.port === portName ? cable.b : cable.a);
  const other = far && portOf(estate, far.device, far.port);
  for (const end of [port, other]) if (end) end.carrier ??= end.oper === 'up';
  if (change.admin !== undefined) port.admin = change.admin;
  if (change.power !== undefined && port.power) port.power = poweredAs(port.power, change.power, port.carrier === true);
  const runs = port.carrier === true && port.admin === 'up' && !port.power?.switchedOff;
  settle(port, runs && other?.admin !== 'down', at);
  if (other) settle(other, runs && other.admin === 'up' && other.carrier === true, at);
}

function poweredAs(
  { classification, status }: NonNullable<SimPort['power']>,
  on: boolean,
  somebodyThere: boolean,
): NonNullable<SimPort['power']> {
  if (!on) return { classification, status: powering.disabled, switchedOff: true };
  return {
    classification,
    status:
      status !== powering.disabled
        ? status
        : somebodyThere && classification > 1
          ? powering.delivering
          : powering.searching,
  };
}

function settle(port: SimPort, up: boolean, at: number): void {
  const oper = up ? 'up' : 'down';
  if (port.oper === oper) return;
  port.oper = oper;
  port.changedAt = at;
}

const portOf = ({ devices }: SimEstate, device: string, port: string) =>
  devices.find(({ name }) => name === device)?.ports.find(({ name }) => name === port);
