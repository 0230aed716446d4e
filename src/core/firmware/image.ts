import type { CatalogueRelease } from './catalogue';

/** An image that lies in the folder of images. */
export interface ImageFile {
  name: string;
  bytes: number;
  /** SHA-256 in small hexadecimal digits; empty until it is read */
  hash: string;
  /** why it could not be read; empty where it could */
  mistake: string;
}

/**
 * How the image of a release stands. `right`: its SHA-256 is that of the catalogue; `not held against`: it is there, and the catalogue says no hash; `being read`: its hash is not known yet.
 */
export const imageStates = [
  'right',
  'not held against',
  'being read',
  'missing',
  'wrong size',
  'wrong hash',
  'not readable',
] as const;
export type ImageState = (typeof imageStates)[number];

export interface ImageStanding {
  state: ImageState;
  words: string;
  needed: string | null;
  have: string | null;
}

type Wanted = Pick<CatalogueRelease, 'image' | 'imageBytes' | 'imageHash'>;

/** Whether an image may be sent to a device. */
export const mayBeSent = (state: ImageState): boolean => state === 'right' || state === 'not held against';

/**
 * How the image of a release stands in the folder.
 * @param files by name
 * @returns null where the catalogue names no image
 */
export function imageStanding(
  { image, imageBytes, imageHash }: Wanted,
  files: ReadonlyMap<string, ImageFile>,
): ImageStanding | null {
  if (image === '') return null;
  const file = files.get(image);
  if (!file) {
    // under another name it is the same image
    const same = imageHash === '' ? undefined : [...files.values()].find(({ hash }) => hash === imageHash);
    const words = same
      ? `image ${image} lies there as ${same.name}: name it as the catalogue does`
      : `image ${image} is not in the folder of images`;
    return { state: 'missing', words, needed: image, have: same?.name ?? null };
  }
  if (file.mistake)
    return {
      state: 'not readable',
      words: `image ${image} cannot be read: ${file.mistake}`,
      needed: image,
      have: null,
    };
  if (imageBytes !== null && file.bytes !== imageBytes) {
    const [needed, have] = [exactly(imageBytes), exactly(file.bytes)];
    return { state: 'wrong size', words: `image ${image} has ${have}, it should have ${needed}`, needed, have };
  }
  if (file.hash === '')
    return { state: 'being read', words: `image ${image} is being read`, needed: imageHash || null, have: null };
  if (imageHash === '')
    return {
      state: 'not held against',
      words: `image ${image} is there; the catalogue has no SHA-256 to hold it against`,
      needed: null,
      have: file.hash,
    };
  return file.hash === imageHash
    ? { state: 'right', words: `image ${image} is there, its SHA-256 is right`, needed: imageHash, have: file.hash }
    : {
        state: 'wrong hash',
        words: `image ${image} is not what the catalogue says: its SHA-256 is another`,
        needed: imageHash,
        have: file.hash,
      };
}

const exactly = (bytes: number): string => `${bytes.toLocaleString('en')} bytes`;

export const imagesByName = (files: readonly ImageFile[]): Map<string, ImageFile> =>
  new Map(files.map((file) => [file.name, file]));
