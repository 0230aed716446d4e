import { ObjectTree, ObjectWriter, type Instance } from '../src/sim/snmp/objects';

/** What a dense agent of the benches holds: 52 ports, 400 forwarding rows, 60 modules, 200 neighbours' addresses. */
const ports = 52;
const forwarded = 400;
const modules = 60;
const neighbours = 200;

const mac = (agent: number, kind: number, at: number) =>
  Buffer.from([2, kind, agent >> 8, agent & 255, at >> 8, at & 255]);

export function instancesOf(agent: number): Instance[] {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.1.0', 'Kestrane K-Access 48, release 7.4.12b, boot 3.2');
  write.objectId('1.3.6.1.2.1.1.2.0', '1.3.6.1.4.1.59101.1.48');
  write.ticks('1.3.6.1.2.1.1.3.0', 8_640_000);
  write.text('1.3.6.1.2.1.1.4.0', 'network control');
  write.text('1.3.6.1.2.1.1.5.0', `bench-${agent}`);
  write.text('1.3.6.1.2.1.1.6.0', 'bench');
  write.integer('1.3.6.1.2.1.1.7.0', 2);
  for (let at = 1; at <= ports; at++) {
    const row = '1.3.6.1.2.1.2.2.1';
    write.integer(`${row}.1.${at}`, at);
    write.text(`${row}.2.${at}`, `bench port ${at}`);
    write.integer(`${row}.3.${at}`, 6);
    write.integer(`${row}.4.${at}`, 1500);
    write.gauge(`${row}.5.${at}`, 1_000_000_000);
    write.text(`${row}.6.${at}`, mac(agent, 1, at));
    write.integer(`${row}.7.${at}`, 1);
    write.integer(`${row}.8.${at}`, 1);
    write.ticks(`${row}.9.${at}`, 1000);
    write.text(`1.3.6.1.2.1.31.1.1.1.1.${at}`, String(at));
    write.gauge(`1.3.6.1.2.1.31.1.1.1.15.${at}`, 1000);
    write.integer(`1.3.6.1.2.1.31.1.1.1.17.${at}`, 1);
    write.text(`1.3.6.1.2.1.31.1.1.1.18.${at}`, `desk ${at}`);
    write.integer(`1.3.6.1.2.1.10.7.2.1.19.${at}`, 3);
    write.integer(`1.3.6.1.2.1.17.1.4.1.2.${at}`, at);
    write.gauge(`1.3.6.1.2.1.17.7.1.4.5.1.1.${at}`, 10);
    write.integer(`1.3.6.1.2.1.17.2.15.1.3.${at}`, 5);
  }
  for (let at = 1; at <= modules; at++) {
    const row = '1.3.6.1.2.1.47.1.1.1.1';
    write.text(`${row}.2.${at}`, at === 1 ? 'K-Access 48 chassis' : `module ${at}`);
    write.integer(`${row}.4.${at}`, at === 1 ? 0 : 1);
    write.integer(`${row}.5.${at}`, at === 1 ? 3 : 9);
    write.integer(`${row}.6.${at}`, at);
    write.text(`${row}.7.${at}`, `part ${at}`);
    write.text(`${row}.8.${at}`, 'C');
    write.text(`${row}.9.${at}`, '3.2');
    write.text(`${row}.10.${at}`, '7.4.12b');
    write.text(`${row}.11.${at}`, `BN-${agent}-${at}`);
    write.text(`${row}.12.${at}`, 'Kestrane');
    write.text(`${row}.13.${at}`, 'KB-1');
    write.integer(`${row}.16.${at}`, 1);
  }
  const own = `10.73.${agent >> 8}.${agent & 255}`;
  write.address(`1.3.6.1.2.1.4.20.1.1.${own}`, own);
  write.integer(`1.3.6.1.2.1.4.20.1.2.${own}`, 1);
  write.address(`1.3.6.1.2.1.4.20.1.3.${own}`, '255.255.0.0');
  for (let at = 1; at <= neighbours; at++) {
    write.text(`1.3.6.1.2.1.4.22.1.2.1.10.80.${agent & 255}.${at}`, mac(agent, 2, at));
    write.integer(`1.3.6.1.2.1.4.22.1.4.1.10.80.${agent & 255}.${at}`, 3);
  }
  write.text('1.3.6.1.2.1.17.1.1.0', mac(agent, 0, 0));
  for (let at = 0; at < forwarded; at++) {
    const index = [10, ...mac(agent, 3, at)].join('.');
    write.gauge(`1.3.6.1.2.1.17.7.1.2.2.1.2.${index}`, 1 + (at % ports));
    write.integer(`1.3.6.1.2.1.17.7.1.2.2.1.3.${index}`, 3);
  }
  return write.instances;
}

export const objectsOf = (agent: number): ObjectTree => new ObjectTree(instancesOf(agent));
