import { pictureHead, type PictureHead } from '../../core/floor/pictureSize';
import { Problem } from '../access/problem';

const largestPicture = 16 * 1024 * 1024;
const longestSide = 8000;

/** The picture of a floor in a request. @throws Problem where it is none, or too large */
export async function pictureGiven(request: Request): Promise<{ picture: Buffer; head: PictureHead }> {
  const tooLarge = () => new Problem(413, 'Too large', `A picture may have ${largestPicture / 1024 / 1024} MB.`);
  if (Number(request.headers.get('content-length') ?? 0) > largestPicture) throw tooLarge();
  const picture = Buffer.from(await request.arrayBuffer());
  if (picture.length > largestPicture) throw tooLarge();
  const head = pictureHead(picture);
  if (!head)
    throw new Problem(
      422,
      'No picture',
      'The file is neither PNG nor JPEG, or it is damaged. Of a PDF the page that you choose is sent as a picture.',
    );
  if (Math.max(head.width, head.height) > longestSide)
    throw new Problem(
      422,
      'Too large',
      `The picture has ${head.width} × ${head.height} points; a side may have ${longestSide}.`,
    );
  return { picture, head };
}
