'use client';

import type { ComponentType } from 'react';
import { CoverSection } from '../../contracts/CoverSection';
import { WhereSection } from '../../outlets/WhereSection';
import { OwnSection } from '../../own/OwnSection';
import { SiteSection } from '../../sites/SiteSection';
import { Addresses } from './Addresses';
import { RestsOn } from '../RestsOn';
import { DependsOnIt } from './DependsOnIt';
import type { SectionProps } from './dossierTypes';
import { HistorySection } from './HistorySection';
import { ModuleTree } from './ModuleTree';
import { Neighbours } from './Neighbours';
import { Peers } from './Peers';
import { Ports } from './Ports';
import { Readiness } from './Readiness';
import { Readings } from './Readings';
import { Running } from './Running';
import { StorageSection } from './StorageSection';
import { TalkSection } from './TalkSection';
import { VirtualRouters } from './VirtualRouters';
import { WorksSection } from './WorksSection';

interface DossierSection {
  name: string;
  /** in which column of its own page it stands */
  column: 1 | 2 | 3;
  /** whether it is in a short dossier on paper */
  isPrinted: boolean;
  Section: ComponentType<SectionProps>;
}

const Cover = ({ dossier: { cover }, paper }: SectionProps) => <CoverSection cover={cover} paper={paper} />;
const Where = ({ id, paper }: SectionProps) =>
  paper ? null : <WhereSection key={id} what={`device=${id}`} sel={`device:${id}`} />;
const Rests = ({ id, paper }: SectionProps) => (paper ? null : <RestsOn key={id} of={`device:${id}`} />);
const Site = ({ dossier: { device, version }, id, paper }: SectionProps) =>
  paper ? null : <SiteSection key={id} id={id} site={String(device.site ?? '')} version={version} />;
const Own = ({ dossier: { device, version }, id, paper }: SectionProps) => (
  <OwnSection key={id} thing="devices" row={device} version={version} readOnly={paper} />
);

/** What a dossier of a device tells below its first facts, in its order. A new section is a file and a line here. */
export const sections: readonly DossierSection[] = [
  { name: 'dependants', column: 1, isPrinted: true, Section: DependsOnIt },
  { name: 'rests', column: 1, isPrinted: false, Section: Rests },
  { name: 'cover', column: 1, isPrinted: true, Section: Cover },
  { name: 'where', column: 1, isPrinted: false, Section: Where },
  { name: 'site', column: 1, isPrinted: false, Section: Site },
  { name: 'own', column: 1, isPrinted: true, Section: Own },
  { name: 'works', column: 1, isPrinted: false, Section: WorksSection },
  { name: 'modules', column: 2, isPrinted: true, Section: ModuleTree },
  { name: 'readiness', column: 1, isPrinted: true, Section: Readiness },
  { name: 'running', column: 3, isPrinted: false, Section: Running },
  { name: 'talks', column: 3, isPrinted: false, Section: TalkSection },
  { name: 'ports', column: 3, isPrinted: false, Section: Ports },
  { name: 'readings', column: 2, isPrinted: false, Section: Readings },
  { name: 'storage', column: 2, isPrinted: false, Section: StorageSection },
  { name: 'neighbours', column: 2, isPrinted: true, Section: Neighbours },
  { name: 'peers', column: 2, isPrinted: false, Section: Peers },
  { name: 'virtualRouters', column: 2, isPrinted: false, Section: VirtualRouters },
  { name: 'addresses', column: 2, isPrinted: true, Section: Addresses },
  { name: 'history', column: 1, isPrinted: false, Section: HistorySection },
];
