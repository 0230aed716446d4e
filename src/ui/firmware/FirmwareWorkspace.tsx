'use client';

import { useView } from '../lib/useView';
import { AdvisoriesView } from './advisories/AdvisoriesView';
import { CatalogueView } from './catalogue/CatalogueView';
import { DoingView } from './doing/DoingView';
import './firmware.css';
import { ImagesView } from './images/ImagesView';
import { ReadinessView } from './readiness/ReadinessView';
import { RunsView } from './runs/RunsView';
import { TargetsView } from './targets/TargetsView';
import { WavesView } from './waves/WavesView';

/** What runs, what should, and what stands in the way. */
export function FirmwareWorkspace() {
  const { of } = useView();
  switch (of) {
    case 'runs':
      return <RunsView />;
    case 'targets':
      return <TargetsView />;
    case 'releases':
      return <CatalogueView />;
    case 'doing':
      return <DoingView />;
    case 'images':
      return <ImagesView />;
    case 'waves':
      return <WavesView />;
    case 'advisories':
      return <AdvisoriesView />;
    default:
      return <ReadinessView />;
  }
}
