import type { LayoutDevice, LayoutJoint } from '@/core/layout/bay';
import { layoutEstate } from '@/core/layout/estateLayout';

/** Places the map away from the interface's thread. */
self.onmessage = ({ data }: MessageEvent<{ devices: LayoutDevice[]; joints: LayoutJoint[] }>) => {
  self.postMessage(layoutEstate(data.devices, data.joints));
};
