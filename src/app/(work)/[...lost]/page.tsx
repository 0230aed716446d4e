import { notFound } from 'next/navigation';

/** Any address that is none of ours: told inside the frame, so that every way on is still there. */
export default function LostPage(): never {
  notFound();
}
