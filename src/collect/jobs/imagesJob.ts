import * as yup from 'yup';
import { readNewImages } from '../images/readImages';
import { jobKind } from './jobKind';

/** Reads images that were put into their folder. */
export const imagesJob = jobKind({
  kind: 'images',
  lane: 'images',
  payload: yup.object({}).noUnknown(),
  attempts: 3,
  resumes: () => true,
  run: async ({ store, signal }) => ({ read: await readNewImages(store, Date.now, signal) }),
});
