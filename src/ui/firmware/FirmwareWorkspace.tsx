'use client';

import { useView } from '../lib/useView';
import './firmware.css';
import { ReadinessView } from './readiness/ReadinessView';
import { RunsView } from './runs/RunsView';

/** What runs, what should, and what stands in the way. */
export function FirmwareWorkspace() {
  const { of } = useView();
  return of === 'runs' ? <RunsView /> : <ReadinessView />;
}
