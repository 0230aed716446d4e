import { layoutTerraces, type LayoutDevice, type LayoutLink } from '@/core/layout/terraces';

/** Places the map away from the interface's thread. */
self.onmessage = ({ data }: MessageEvent<{ devices: LayoutDevice[]; links: LayoutLink[] }>) => {
  self.postMessage(layoutTerraces(data.devices, data.links));
};
