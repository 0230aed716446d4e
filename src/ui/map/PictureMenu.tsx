'use client';

import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { Folding } from './distance';
import { paletteOf, writeSvg } from './drawing';
import type { Picture } from './picture';

/** The map as a picture to take away, as it is looked at: from as far, with the same colours. */
export function PictureMenu({ picture, folding, scale, survey }: { picture: Picture | null; folding: Folding; scale: () => number; survey: number }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const save = (blob: Blob, name: string) => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(blob);
    link.download = name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  };
  // a picture is looked at as a whole: devices are drawn wherever they can be told apart at all
  const svg = () => (picture ? writeSvg(picture, paletteOf(document.documentElement), `Network map, survey ${survey}`, Math.max(0.62, scale()), folding) : '');
  const asSvg = () => {
    setAnchor(null);
    save(new Blob([svg()], { type: 'image/svg+xml' }), `bolide-map-survey-${survey}.svg`);
  };
  const asPng = () => {
    setAnchor(null);
    if (!picture) return;
    const image = new Image();
    image.onload = () => {
      const canvas = document.createElement('canvas');
      canvas.width = image.width * 2;
      canvas.height = image.height * 2;
      canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
      canvas.toBlob((blob) => blob && save(blob, `bolide-map-survey-${survey}.png`), 'image/png');
    };
    image.src = URL.createObjectURL(new Blob([svg()], { type: 'image/svg+xml' }));
  };
  return (
    <>
      <button type="button" className="textlink" disabled={!picture} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>Picture</button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={asSvg}>SVG</MenuItem>
        <MenuItem dense onClick={asPng}>PNG</MenuItem>
      </Menu>
    </>
  );
}
