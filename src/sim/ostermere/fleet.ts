import { FabricController } from '../controllers/fabric';
import { HypervisorManager } from '../controllers/hypervisors';
import { WirelessController } from '../controllers/wireless';
import { UnknownService } from '../https/unknownService';
import { CertificateDrawer, type SelfSigned } from '../https/certificate';
import { ManagementController } from '../redfish/controller';
import { imageContent } from '../firmware/imageContent';
import { UpdateBay } from '../redfish/updateBay';
import { RestconfDevice } from '../restconf/deviceService';
import { ImageFlash } from '../restconf/imageFlash';
import { releaseIn, sampleImageBytes } from './images';
import { Agent } from '../snmp/agent';
import type { AgentUser } from '../snmp/usm';
import { onLoopback } from '../walks';
import { answersOf, engineIdOf, type Running } from './answers';
import { contextTrees } from './answersRouting';
import { controllerOf, sampleHardwareUser, treeOf } from './controllers';
import { ostermere } from './estate';
import { switchPort, type PortChange } from './hands';
import type { SimDevice, SimEstate } from './model';
import type { ObjectTree } from '../snmp/objects';
import {
  controllerAddresses,
  fabricState,
  hypervisorState,
  restconfData,
  sampleControllerUser,
  sampleNetworkUser,
  wirelessState,
} from './services';

/** What the made-up operator's agents let in. Not secrets: they guard nothing but the sample. */
export const sampleUser: AgentUser = {
  name: 'olr-survey',
  authProtocol: 'SHA-256',
  authPassword: 'signal-lantern-71',
  privProtocol: 'AES-128',
  privPassword: 'harbour-bell-19',
};
/** Whoever may also set. */
export const sampleWriter: AgentUser = {
  name: 'olr-hands',
  authProtocol: 'SHA-256',
  authPassword: 'lever-frame-48',
  privProtocol: 'AES-128',
  privPassword: 'points-motor-27',
  writes: true,
};
export const sampleCommunity = 'olr-readonly';

/** How long equipment of the sample is away when it restarts. */
const awayMs = 4000;
const flashOctets = 8_000_000;

/** A leaf with the image it runs. The second one loses its uplink with the newer release. */
function flashOf({ name, release }: SimDevice): ImageFlash {
  const file = `fen-l-${release}.bin`;
  const flash = new ImageFlash(
    { file, release, content: imageContent(file, sampleImageBytes) },
    releaseIn,
    flashOctets,
    awayMs,
  );
  flash.losesNeighboursWith = name.endsWith('-2') ? '5.2.4' : '';
  return flash;
}

interface StandIn {
  listen(certificate?: SelfSigned): Promise<void>;
  close(): Promise<void>;
}

/** The agents and controllers of Ostermere, each on sockets of its own, which can be moved along the story. */
export class Fleet {
  #agents = new Map<string, Agent>();
  readonly #controllers = new Map<string, ManagementController>();
  readonly #services = new Map<string, StandIn>();

  readonly #certificates: CertificateDrawer;

  /**
   * @param httpsPort TCP port of what answers over HTTPS; the UDP port's number is free for it too
   * @param certificates file that keeps the certificates from start to start
   */
  constructor(
    readonly base: string,
    readonly port: number,
    readonly httpsPort = port,
    certificates: string | null = null,
  ) {
    this.#certificates = new CertificateDrawer(certificates);
  }

  get size(): number {
    return this.#agents.size;
  }

  get services(): number {
    return this.#controllers.size + this.#services.size;
  }

  /** Lets the network be as it is at a step: agents appear, change their answers, fall silent. */
  async moveTo(step: number): Promise<void> {
    const estate = ostermere(step);
    await this.#moveAgents(estate, answersOf(estate, this.#running(estate, Date.now())));
    await this.#moveControllers(estate, step);
    await this.#moveServices(estate, step);
    await this.#moveUnknown(estate);
  }

  /**
   * Makes now what the agents answer, which they else make when they are asked for the first time: where all are asked at
   * once, the last of them would be late. A device at a time, so that those that are asked meanwhile do not wait.
   */
  async makeReady(): Promise<void> {
    for (const { objects } of this.#agents.values()) {
      objects.makeReady();
      await new Promise((resolve) => setImmediate(resolve));
    }
  }

  #running(estate: SimEstate, startedAt: number): Running {
    return {
      startedAt,
      hands: { switchPort: (device, port, change) => this.#changed(estate, startedAt, device, port, change) },
    };
  }

  /** A port was switched: its agent answers so at once, and so do the others, whose ports and tables followed. */
  #changed(estate: SimEstate, startedAt: number, device: string, port: string, change: PortChange): void {
    switchPort(estate, device, port, change, Date.now());
    const answers = answersOf(estate, this.#running(estate, startedAt));
    for (const [key, agent] of this.#agents) {
      const objects = answers.get(key.slice(0, key.indexOf(' ')));
      if (objects) agent.objects = objects;
    }
  }

  /** RESTCONF devices and controllers: each is started once and then told how it is now. */
  async #moveServices(estate: SimEstate, step: number): Promise<void> {
    const place = (address: string) => ({ address: onLoopback(address, this.base), port: this.httpsPort });
    const start = async <Service extends StandIn>(
      name: string,
      inside: string,
      make: () => Service,
      renew: (service: Service) => void,
    ): Promise<void> => {
      const { address } = place(inside);
      const known = this.#services.get(name) as Service | undefined;
      if (known) return renew(known);
      const service = make();
      await service.listen(await this.#certificates.of(name, address));
      this.#services.set(name, service);
    };
    for (const device of estate.devices.filter(({ access }) => access === 'restconf')) {
      const data = restconfData(device, estate);
      await start(
        device.name,
        device.address,
        () => new RestconfDevice({ ...place(device.address), ...sampleNetworkUser }, data, flashOf(device)),
        (service) => {
          service.data = data;
          service.flash?.become(device.release);
        },
      );
    }
    const wireless = wirelessState(estate, step);
    if (wireless)
      await start(
        'wireless',
        controllerAddresses.wireless,
        () => new WirelessController({ ...place(controllerAddresses.wireless), ...sampleControllerUser }, wireless),
        (service) => (service.state = wireless),
      );
    const fabric = fabricState(estate);
    await start(
      'fabric',
      controllerAddresses.fabric,
      () => new FabricController({ ...place(controllerAddresses.fabric), ...sampleControllerUser }, fabric),
      (service) => (service.state = fabric),
    );
    const hypervisors = hypervisorState(estate);
    await start(
      'hypervisors',
      controllerAddresses.hypervisors,
      () => new HypervisorManager({ ...place(controllerAddresses.hypervisors), ...sampleControllerUser }, hypervisors),
      (service) => (service.state = hypervisors),
    );
  }

  /** Machines of the new stop that have HTTPS, but nothing that can be read. */
  async #moveUnknown({ guests }: SimEstate): Promise<void> {
    for (const { name, address } of guests.filter((machine) => machine.answersHttps)) {
      if (address === null || this.#services.has(name)) continue;
      const place = onLoopback(address, this.base);
      const service = new UnknownService(place, this.httpsPort);
      await service.listen(await this.#certificates.of(name, place));
      this.#services.set(name, service);
    }
  }

  async #moveAgents(estate: SimEstate, answers: Map<string, ObjectTree>): Promise<void> {
    const wanted = new Map(
      estate.devices
        .filter(({ access }) => access !== 'restconf')
        .flatMap((device) =>
          [device.address, ...(device.alsoAt ?? [])].map((address) => [
            `${device.name} ${address}`,
            { device, address },
          ]),
        ),
    );
    for (const [key, agent] of this.#agents) {
      if (wanted.has(key)) continue;
      agent.close();
      this.#agents.delete(key);
    }
    for (const [key, { device, address }] of wanted) {
      const objects = answers.get(device.name);
      if (!objects) continue;
      const known = this.#agents.get(key);
      if (known) {
        known.objects = objects;
        continue;
      }
      const agent = new Agent(
        {
          address: onLoopback(address, this.base),
          port: this.port,
          engineId: engineIdOf(device),
          communities: [
            ...(device.access === 'v2c' ? [sampleCommunity] : []),
            ...(device.name === 'sgh-ups-1' ? ['public'] : []),
          ],
          users: device.access === 'v3' ? [sampleUser, sampleWriter] : [],
        },
        objects,
        contextTrees(device),
      );
      await agent.listen();
      this.#agents.set(key, agent);
    }
  }

  async #moveControllers({ devices }: SimEstate, step: number): Promise<void> {
    for (const device of devices) {
      const tree = treeOf(device, step);
      const address = controllerOf(device, step)?.controller.address;
      if (!tree || !address) continue;
      const known = this.#controllers.get(device.name);
      if (known) {
        known.tree = tree;
        known.updates?.become(controllerOf(device, step)?.firmware ?? []);
        continue;
      }
      const controller = new ManagementController(
        { address: onLoopback(address, this.base), port: this.httpsPort, ...sampleHardwareUser, pageSize: 5 },
        tree,
        new UpdateBay(controllerOf(device, step)?.firmware ?? [], releaseIn, awayMs),
      );
      await controller.listen(await this.#certificates.of(`${device.name} controller`, onLoopback(address, this.base)));
      this.#controllers.set(device.name, controller);
    }
  }

  close(): void {
    for (const agent of this.#agents.values()) agent.close();
    this.#agents.clear();
    for (const controller of this.#controllers.values()) void controller.close();
    this.#controllers.clear();
    for (const service of this.#services.values()) void service.close();
    this.#services.clear();
  }
}
