'use client';

import { useState } from 'react';
import type { ThingName } from '@/core/things/things';
import { ActIcon } from '../ActIcon';
import { TextButton } from '../TextButton';
import type { PictureChoice } from './usePictures';
import { fetched } from '../../lib/fetched';

const PicturesDialog = fetched(() => import('./PicturesDialog').then((module) => module.PicturesDialog));

/** Opens the choice of pictures over a table. */
export function PictureChooser(props: {
  thing: ThingName;
  pictures: PictureChoice[];
  onChoose: (pictures: PictureChoice[]) => void;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <TextButton onClick={() => setOpen(true)}>
        <ActIcon act="chart" />
        Pictures
      </TextButton>
      {open && <PicturesDialog {...props} onClose={() => setOpen(false)} />}
    </>
  );
}
