import { pictureHead, type PictureHead } from '../../core/floor/pictureSize';
import { Problem } from '../access/problem';
import { megabytes } from '../api/route';

export const largestPicture = megabytes(16);
const longestSide = 8000;

/** The picture of a floor in a body. @throws Problem where it is none, or has too many points */
export function pictureIn(picture: Buffer): { picture: Buffer; head: PictureHead } {
  const head = pictureHead(picture);
  if (!head) {
    const words =
      'The file is neither PNG nor JPEG, or it is damaged. Of a PDF the page that you choose is sent as a picture.';
    throw new Problem(422, 'No picture', words);
  }
  const { width, height } = head;
  if (Math.max(width, height) > longestSide) {
    const words = `The picture has ${width} × ${height} points; a side may have ${longestSide}.`;
    throw new Problem(422, 'Too large', words);
  }
  return { picture, head };
}
