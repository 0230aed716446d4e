import type { InterfaceRow } from '../mib/interfaces';
import type { PoweringPort } from '../mib/powerEthernet';
import { isEthernetSocket } from '../values/iana';
import { poweringSockets, type PoweringSocket, type SocketParts } from './poweringSockets';

/** Which powering port each socket is, by its ifIndex. */
export const poweringOfSockets = (
  interfaces: InterfaceRow[],
  ports: PoweringPort[],
  parts?: SocketParts,
): Map<number, PoweringSocket> =>
  poweringSockets(
    ports,
    interfaces.filter((row) => isEthernetSocket(row.ifType) && row.connectorPresent !== false),
    parts,
  );
