import { imageContent } from '../firmware/imageContent';

/** Images as makers publish them for equipment of the sample: which release each is. */
export const sampleImages: Readonly<Record<string, string>> = {
  'fen-l-5.2.4.bin': '5.2.4',
  'k-access-7.4.12b.img': '7.4.12b',
  'k-access-7.6.1.img': '7.6.1',
  'k-core-7.6.4.img': '7.6.4',
  'k-ring-7.4.12b.img': '7.4.12b',
  'edge-2026.2-p3.bin': '2026.2-p3',
  'brannick-r-bios-2.14.1.bin': '2.14.1',
  'brannick-r-controller-3.11.bin': '3.11',
};
/** Kept small, so that many fit into a folder. */
export const sampleImageBytes = 1_572_864;

/** The release that equipment finds in an image; empty where it is not what its maker made. */
export function releaseIn(file: string, content: Buffer): string {
  const release = sampleImages[file];
  return release !== undefined && content.equals(imageContent(file, sampleImageBytes)) ? release : '';
}
