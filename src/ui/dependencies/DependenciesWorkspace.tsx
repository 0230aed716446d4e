'use client';

import { useView } from '../lib/useView';
import './dependencies.css';
import { ApplicationsView } from './applications/ApplicationsView';
import { CirclesView } from './circles/CirclesView';
import { RehearseView } from './rehearse/RehearseView';
import { ServicesView } from './services/ServicesView';
import { SuspectsView } from './suspects/SuspectsView';
import { TalkView } from './talk/TalkView';

/** Who rests on whom: what an outage would cost, where one comes from, and what serves whom. */
export function DependenciesWorkspace() {
  const { of } = useView();
  if (of === 'suspects') return <SuspectsView />;
  if (of === 'services') return <ServicesView />;
  if (of === 'circles') return <CirclesView />;
  if (of === 'applications') return <ApplicationsView />;
  if (of === 'rehearse') return <RehearseView />;
  return <TalkView />;
}
