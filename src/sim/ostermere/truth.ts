/**
 * The oddities planted in the sample, each of which must be found from the agents' answers alone: what thing shows it, by
 * which filter, in which words, and from which step of the story on.
 */
export interface PlantedOddity {
  name: string;
  fromStep: number;
  thing: 'visits' | 'devices' | 'modules' | 'ports' | 'links' | 'endpoints' | 'services' | 'faults' | 'networks' | 'peers' | 'machines';
  /** in the filter language */
  where: string;
  /** a field and what it must say in every row that is found */
  field: string;
  says: RegExp;
  rows: number;
}

export const plantedOddities: PlantedOddity[] = [
  { name: 'one-sided neighbour report', fromStep: 1, thing: 'links', where: 'issueWords:"does not hear"', field: 'issueWords', says: /^sgh-acc-2 does not hear sgh-core-2 on U2$/, rows: 1 },
  { name: 'a device answering on several addresses is one device', fromStep: 1, thing: 'devices', where: 'addresses=10.72.4.251', field: 'name', says: /^sgh-core-1$/, rows: 1 },
  { name: 'unmanaged switch at a kiosk: five MACs on one edge port', fromStep: 1, thing: 'endpoints', where: 'via=unmanaged device=rpw-plat port=12', field: 'vlan', says: /^60$/, rows: 5 },
  { name: 'phone with a computer behind it', fromStep: 1, thing: 'endpoints', where: 'via=phone', field: 'port', says: /^14$/, rows: 1 },
  { name: 'wireless machines are not plugged into the switch', fromStep: 1, thing: 'endpoints', where: 'via=wireless device=rpw-plat', field: 'port', says: /^20$/, rows: 3 },
  { name: 'a supervisor with less memory than its chassis claims', fromStep: 1, thing: 'devices', where: 'family=K-Core memory<4G', field: 'name', says: /^sgh-core-2$/, rows: 1 },
  { name: 'a configuration that nobody saved', fromStep: 1, thing: 'devices', where: 'unsavedConfiguration="not saved"', field: 'name', says: /^sgh-core-2$/, rows: 1 },
  { name: 'flash full though large', fromStep: 1, thing: 'devices', where: 'family=K-Access flash>=512M', field: 'flashFreeBytes', says: /^23068672$/, rows: 1 },
  { name: 'boot code older than its kind', fromStep: 1, thing: 'devices', where: 'family=K-Ring description:"boot 1"', field: 'name', says: /^chd-ring$/, rows: 1 },
  { name: 'printer on 10 Mbit/s', fromStep: 4, thing: 'ports', where: 'speed=10M', field: 'duplex', says: /^half$/, rows: 1 },
  { name: 'the ring cut at CHD: two ends down that were up', fromStep: 5, thing: 'ports', where: 'oper=down alias:"to chd-ring" or oper=down alias:"to rpw-ring 2"', field: 'admin', says: /^up$/, rows: 2 },
  { name: 'a machine with a random address', fromStep: 7, thing: 'endpoints', where: 'maker:random', field: 'port', says: /^16$/, rows: 1 },
  { name: 'a kinked cable that damages more frames every week', fromStep: 2, thing: 'ports', where: 'errors>=100 -device=lqy-ring', field: 'name', says: /^7$/, rows: 1 },
  { name: 'a port that its switch cut off because of a loop', fromStep: 6, thing: 'ports', where: 'disabledBy:loop', field: 'name', says: /^48$/, rows: 1 },
  { name: 'power that is drawn at a port', fromStep: 1, thing: 'ports', where: 'device=rpw-plat watts>=18', field: 'name', says: /^20$/, rows: 1 },
  { name: 'a switch near the end of its power', fromStep: 1, thing: 'devices', where: 'powerUsedPercent>=90', field: 'name', says: /^mlr-plat$/, rows: 1 },
  { name: 'the VLAN that is offered to a phone', fromStep: 1, thing: 'ports', where: 'voiceVlan=50 device=rpw-plat', field: 'name', says: /^14$/, rows: 1 },
  { name: 'a transceiver in its port', fromStep: 1, thing: 'ports', where: 'transceiver=KX-10ER device=rpw-ring', field: 'name', says: /^[12]$/, rows: 2 },
  { name: 'duplex mismatch', fromStep: 8, thing: 'links', where: 'issueWords:duplex', field: 'issueWords', says: /lqy-plat U1 has full, lqy-ring 3 has half/, rows: 1 },
  { name: 'native VLAN mismatch', fromStep: 8, thing: 'links', where: 'issueWords:"native VLAN"', field: 'issueWords', says: /rpw-plat U1/, rows: 1 },
  { name: 'a listener that nobody ordered', fromStep: 6, thing: 'services', where: 'port=4444', field: 'process', says: /^ncat$/, rows: 1 },
  { name: 'a core that works above its bound since the ring lost its spare', fromStep: 7, thing: 'faults', where: 'subsystem=readings', field: 'device', says: /^sgh-core-2$/, rows: 1 },
  { name: 'two supplies failed', fromStep: 8, thing: 'faults', where: 'subsystem=power severity=critical', field: 'part', says: /Supply 2$/, rows: 2 },
  { name: 'a default community still answering', fromStep: 1, thing: 'faults', where: 'subsystem=security', field: 'device', says: /^sgh-ups-1$/, rows: 1 },
  { name: 'a virtual router’s own addresses', fromStep: 1, thing: 'networks', where: 'vrf=ticketing', field: 'network', says: /^10\.72\.90\.0\/30$/, rows: 1 },
  { name: 'a routing neighbour that does not talk', fromStep: 1, thing: 'peers', where: 'up=no', field: 'device', says: /^sgh-edge-2$/, rows: 1 },
  { name: 'a virtual machine that is switched off', fromStep: 1, thing: 'machines', where: 'state=off', field: 'name', says: /^vm-test-1$/, rows: 1 },
  { name: 'a memory module failed', fromStep: 8, thing: 'faults', where: 'subsystem=memory', field: 'action', says: /^Replace the module in DIMM 4/, rows: 1 },
  { name: 'a management controller is no device of its own, but an address of its server', fromStep: 1, thing: 'devices', where: 'addresses=10.72.2.13', field: 'name', says: /^sgh-srv-03$/, rows: 1 },
  { name: 'a controller whose private interface changed: what it no longer says is told by name', fromStep: 8, thing: 'devices', where: 'state=partial', field: 'name', says: /^sgh-wlc$/, rows: 1 },
  { name: 'one device that answers on three addresses', fromStep: 1, thing: 'devices', where: 'addresses=10.72.32.17 addresses=10.72.32.33', field: 'address', says: /^10\.72\.32\.5$/, rows: 1 },
  { name: 'MTU mismatch', fromStep: 1, thing: 'links', where: 'issueWords:MTU', field: 'issueWords', says: /hdp-dist-1 31 has 1500/, rows: 1 },
  { name: 'one address on two machines', fromStep: 1, thing: 'faults', where: 'subsystem=addresses', field: 'part', says: /^10\.72\.48\.77$/, rows: 1 },
  { name: 'a clock that is wrong', fromStep: 1, thing: 'faults', where: 'subsystem=clock', field: 'device', says: /^qdp-srv-02$/, rows: 1 },
  { name: 'a virtual firewall without a serial', fromStep: 1, thing: 'devices', where: 'role=firewall description:virtual', field: 'serial', says: /^$/, rows: 1 },
  { name: 'four machines of the new stop without SNMP', fromStep: 7, thing: 'visits', where: 'outcome=alive', field: 'address', says: /^10\.72\.17\./, rows: 4 },
  { name: 'a stop on a single line', fromStep: 1, thing: 'links', where: '(from=slm-ring or to=slm-ring) -from=slm-plat -to=slm-plat', field: 'kind', says: /^ethernet$/, rows: 1 },
  { name: 'a hypervisor with both team members on one switch', fromStep: 1, thing: 'faults', where: 'subsystem=teaming message:"end on"', field: 'message', says: /^both uplinks of vswitch0 end on sgh-acc-2 \(eth0 on 8 and eth1 on 16\)/, rows: 1 },
  { name: 'a VLAN that one port of a team lacks', fromStep: 1, thing: 'faults', where: 'subsystem=teaming message:"does not carry"', field: 'message', says: /^sgh-acc-2 15 does not carry VLAN 20 \(TICKET\): vm-depot-1 is cut off when eth1 is the way$/, rows: 1 },
  { name: 'two stops on a single line each: what that line cuts off', fromStep: 1, thing: 'links', where: 'cutsDevices>=6 (from=obs-ring or to=slm-ring) -from=obs-plat -to=obs-plat', field: 'cutsEndpoints', says: /^4\d$/, rows: 2 },
  { name: 'the north half-ring lost its spare: each of its links says with what', fromStep: 5, thing: 'links', where: 'spareLostBy!=""', field: 'spareLostBy', says: /^chd-ring 1 – rpw-ring 2 is gone$/, rows: 4 },
  { name: 'a platform switch silent', fromStep: 8, thing: 'devices', where: 'state=silent', field: 'name', says: /^ofy-plat$/, rows: 1 },
];
