import type { Check, Severity } from './check';
import type { ThingName } from '../things/fields';

const check = (key: string, severity: Severity, thing: ThingName, where: string, name: string, why: string, remedy: string, on = true): Check => ({ key, name, thing, where, scope: '', severity, why, remedy, on });

/** Checks that are worth having in every network. Some are off at first: they ask for what only some keep. */
export const checkLibrary: Check[] = [
  // access
  check('default-community', 'severe', 'faults', 'subsystem=security', 'No device answers to a community it was delivered with', 'Anybody who can reach it reads all it knows, and with luck may change it.', 'Remove the communities the device came with; ask by SNMP version 3.'),
  check('asked-by-community', 'moderate', 'devices', 'askedBy=snmp1 or askedBy=snmp2c', 'Every device is asked with authentication', 'Versions 1 and 2c of SNMP send their community as plain text: whoever listens has it.', 'Set a user with authentication and privacy on the device, and put its credential before the community in the scope.', false),
  check('clear-text-service', 'severe', 'services', 'protocol=tcp (port=21 or port=23 or port=512 or port=513 or port=514)', 'Nothing listens for logins in clear text', 'FTP, Telnet and the r-commands send passwords as they are typed.', 'Switch the service off; use SSH.'),
  check('open-wireless', 'severe', 'wlans', 'enabled=yes (security=open or security="" or security:WEP or security:TKIP)', 'No wireless network goes without encryption of today', 'What is sent on air is read by whoever stands near.', 'Set WPA2 or WPA3; keep an open network only behind a portal and apart from everything else.'),
  check('random-mac-on-cable', 'minor', 'endpoints', 'maker="random address" -via=wireless -via=virtual', 'No machine with a random address hangs on a cable', 'A random address on a cable is a private device or a bridge that nobody registered.', 'Look what is plugged in at that port.'),
  check('unmanaged-switch', 'minor', 'endpoints', 'via=unmanaged -basis=segment', 'Nothing hangs behind an unmanaged switch', 'Several machines on one port without a neighbour: nobody sees what is plugged in there, and a loop behind it is heard everywhere.', 'Replace the small switch by ports of the access switch, or write down why it is there.'),
  check('crowded-port', 'moderate', 'ports', 'kind=edge machines>16', 'No edge port has more than 16 machines behind it', 'Whatever is plugged in there is a network of its own, and all of it shares one cable.', 'Look what is plugged in; ask for a switch that can be asked, or let the port learn fewer addresses.'),
  check('unknown-maker', 'minor', 'endpoints', 'maker="" vlan=70', 'Nothing of an unknown maker is in the VLAN of management', 'Who may speak to switches should be known.', 'Look what it is; change the number of the VLAN in the rule to the one you keep closed.', false),
  check('edge-in-default-vlan', 'moderate', 'ports', 'kind=edge oper=up vlan=1', 'No machine sits in VLAN 1', 'VLAN 1 reaches everywhere by default and carries the switches’ own talk.', 'Put the port into the VLAN of its purpose.'),
  // health
  check('silent', 'severe', 'devices', 'state=silent', 'Every known device answers', 'Nobody knows how a silent device is, and what hangs behind it.', 'Look at its uplink and power first; then at its access rules.'),
  check('partial', 'moderate', 'devices', 'state=partial', 'Every device answers whole', 'What it did not tell stands as it was before, and grows old.', 'Its dossier says which part is missing, and why.'),
  check('critical-fault', 'severe', 'faults', 'severity=critical', 'No part is broken', 'A broken supply or module is the spare that is missing when its twin fails.', 'Each fault says what to do.'),
  check('warning', 'moderate', 'faults', 'severity=warning -subsystem=security -subsystem=clock -subsystem=addresses -subsystem=readings', 'No part warns', 'Most parts say so before they break.', 'Each fault says what to do.'),
  check('reading-beyond-bounds', 'moderate', 'faults', 'subsystem=readings', 'No reading is beyond its bounds', 'Somebody set the bound for a reason.', 'See its line in the dossier of the device.'),
  check('clock', 'moderate', 'faults', 'subsystem=clock', 'Every clock is right', 'Logs of two devices cannot be put side by side, and certificates are judged by the clock.', 'Give the device a time source it can reach.'),
  check('standby', 'severe', 'devices', 'redundancyRole!="" -redundancyRole:ready -redundancyRole:active', 'Every standby is ready', 'A standby that is not ready does not take over.', 'Look at the log of the standby unit; the two must run the same release.'),
  check('one-supply', 'moderate', 'modules', 'empty=yes holds=powerSupply device.role!=access-point', 'No supply bay is empty', 'With one supply, one feed or one supply takes the device down.', 'Fit the second supply, on another feed.', false),
  check('flash-nearly-full', 'moderate', 'devices', 'flashBytes>0 flashFreeBytes<32M', 'There is room in every flash', 'The next release does not fit, and logs or crash files are not written.', 'Delete old images.'),
  check('long-up', 'minor', 'devices', 'uptimeSeconds>730d (role=switch or role=router or role=firewall)', 'Every network device was started within two years', 'What fixes came since are not at work, and nobody knows whether it would start again.', 'Plan a restart with the next upgrade.'),
  check('not-saved', 'severe', 'devices', 'unsavedConfiguration="not saved"', 'Every configuration is saved', 'At the next restart the device is as it was before.', 'Save the running configuration.'),
  // identity
  check('not-recognised', 'moderate', 'devices', 'role=unknown', 'Every device is recognised', 'Without a signature its serial, release and modules are guesses.', 'Start a signature from its dossier, in Settings.'),
  check('no-serial', 'moderate', 'devices', 'serial="" -role=virtual-machine -role=host -description:virtual', 'Every device tells its serial', 'Without a serial there is no cover, and a swapped unit passes unnoticed.', 'Look whether its signature reads the serial from elsewhere; virtual ones have none.'),
  check('no-location', 'minor', 'devices', 'location="" (role=switch or role=router or role=firewall or role=power)', 'Every network device says where it stands', 'At night, somebody has to drive there.', 'Set the location on the device.'),
  check('no-contact', 'minor', 'devices', 'contact="" (role=switch or role=router or role=firewall)', 'Every network device says whom to call', 'Whoever stands before it should know.', 'Set the contact on the device.', false),
  check('no-site', 'minor', 'devices', 'site=""', 'Every device belongs to a site', 'What belongs nowhere is in no plan and in no report.', 'Name it by the rule of names, or add a rule for its name.'),
  check('no-owner', 'minor', 'devices', 'owner=""', 'Every device has an owner', 'Somebody must be asked before it is touched.', 'Write the owner in the dossier, or for many under Edit.', false),
  check('no-asset-number', 'minor', 'devices', 'assetNumber="" serial!=""', 'Every device with a serial has an asset number', 'What is not in the books is not insured.', 'Write it in the dossier, or take it from a CSV file under Edit.', false),
  // cover
  check('cover-ends', 'moderate', 'contracts', 'state=ending uncovered>0', 'No cover ends within 30 days', 'Renewing late costs more than renewing, and a fault in between costs most.', 'Renew it, or enter what follows it; what is taken out of service needs none.'),
  check('cover-ended', 'severe', 'contracts', 'state=ended uncovered>0', 'Nothing in service is under a cover that has ended', 'When it breaks, nobody comes, and the spare has to be bought.', 'Renew it, or take the serial out of the contract if it is meant to go without.'),
  check('no-cover', 'moderate', 'devices', 'cover=none or cover=coming', 'Every device with a serial is covered', 'Nobody is bound to mend it.', 'Enter its warranty or contract in Contracts, one by one or from a CSV file.', false),
  // links
  check('duplex-differs', 'severe', 'links', 'issueWords:duplex', 'Both ends of every link have the same duplex', 'One end sends while the other does: the link works, slowly, and counts late collisions.', 'Let both ends negotiate, or set both.'),
  check('speed-differs', 'moderate', 'links', 'issueWords:"speed differs"', 'Both ends of every link have the same speed', 'One of them is wrong about the link.', 'Set both ends alike.'),
  check('mtu-differs', 'moderate', 'links', 'issueWords:MTU', 'Both ends of every link have the same MTU', 'Large packets vanish in one direction; small ones do not, so that nobody believes it.', 'Set both ends alike.'),
  check('native-vlan-differs', 'severe', 'links', 'issueWords:"native VLAN"', 'Both ends of every trunk have the same native VLAN', 'Two VLANs are joined by a cable, and spanning tree does not see it.', 'Set both ends alike.'),
  check('allowed-vlans-differ', 'moderate', 'links', 'issueWords:"allowed VLANs"', 'Both ends of every trunk carry the same VLANs', 'A VLAN that one end does not carry ends there.', 'Set both ends alike.'),
  check('one-sided', 'minor', 'links', 'issueWords:"does not hear"', 'Both ends of every link hear each other', 'One end does not speak LLDP, or something lies between.', 'Switch LLDP on at that end, or look for something between them.'),
  check('half-duplex', 'moderate', 'ports', 'oper=up duplex=half', 'No port runs at half duplex', 'Half duplex today is a failed negotiation or a very old machine.', 'Let both ends negotiate; look at the cable.'),
  check('ten-megabit', 'minor', 'ports', 'oper=up kind=edge speedBps>0 speedBps<=10M', 'No port runs at 10 Mbit/s', 'Mostly a bad cable, or a machine asleep.', 'Look at the cable and at the machine.'),
  check('slow-uplink', 'moderate', 'ports', 'kind=uplink oper=up speedBps>0 speedBps<1G device.role=switch', 'No uplink of a switch is slower than 1 Gbit/s', 'Everything behind it shares it.', 'Look at the cable; a pair that is broken halves the speed.'),
  check('flapping', 'moderate', 'ports', 'stateChanges>=4', 'No port goes up and down again and again', 'A port that was another one at four of ten surveys has a bad cable, a bad transceiver, or a machine that restarts.', 'Change the cable; look at the machine there. A port that is only used by day is none of these: narrow the rule.'),
  check('cut-link', 'moderate', 'ports', 'admin=up oper=down alias:"to "', 'Every port that is described as a link is up', 'A way that was meant to be there is not: the spare may be gone.', 'Look at the cable and the transceiver, and at the other end.'),
  check('lossy-port', 'moderate', 'ports', 'errors>=100', 'No port loses frames', 'More than a hundred frames were damaged since the survey before: whoever is there waits for what is sent again.', 'Change the cable or the transceiver; look whether both ends speak the same duplex.'),
  check('error-disabled', 'severe', 'ports', 'disabledBy!=""', 'No port was switched off by its switch', 'The switch saw something it must not let in, a loop or too many addresses, and cut the port off: whoever hangs there is without network.', 'Look what is plugged in, take it away, then shut and enable the port.'),
  check('idle-port', 'minor', 'ports', 'kind=unused admin=up lastChangeSeconds>180d', 'No port that nobody uses is left switched on', 'Down for half a year and more: it is free for somebody else, and open for whoever plugs in.', 'Give it to the next who asks, or shut it.', false),
  check('power-budget', 'moderate', 'devices', 'powerUsedPercent>=90', 'No switch gives nine tenths of its power or more', 'The next machine that is plugged in, or the next restart of all of them, gets none.', 'Add a supply, or move a machine to another switch.'),
  check('power-fault', 'moderate', 'ports', 'power:fault', 'No port has a fault of its power', 'The machine there gets none.', 'Look at the cable; try the machine at another port; look at the budget.'),
  // addresses and routing
  check('address-twice', 'severe', 'faults', 'subsystem=addresses', 'No address is on two machines', 'Each of them works at times.', 'Give one of them another address, or let both ask DHCP.'),
  check('peer-down', 'severe', 'peers', 'up=no', 'Every routing peer talks', 'A way out is missing, or never was.', 'Look at the link to it; remove the peer if nobody needs it.'),
  check('vlan-without-name', 'minor', 'vlans', 'name=""', 'Every VLAN has a name', 'Nobody dares to remove a VLAN whose purpose is not known.', 'Name it on the switches that carry it.'),
  // firmware
  check('blocked-target', 'moderate', 'readiness', 'verdict=blocked', 'Every device can go to its target', 'It stays behind when all others go.', 'Extend it, replace it, or give it another target.'),
  check('old-release', 'moderate', 'devices', 'releaseAgeSeconds>730d', 'No release is older than two years', 'Faults found since then are not mended in it.', 'Set a target in Firmware.'),
  // virtual
  check('machine-off', 'minor', 'machines', 'state=off', 'No virtual machine lies switched off', 'It holds memory and storage, and is behind with its updates when it starts.', 'Start it, or archive it.', false),
  check('no-host', 'minor', 'machines', 'host=""', 'Every virtual machine has a host that is known', 'Where it runs decides what takes it down.', 'Put the host into a scope.'),
];
