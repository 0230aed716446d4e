'use client';

import { code128, drawingSVG, qrcode } from 'bwip-js/browser';
import { useMemo } from 'react';

/** A QR code (ISO/IEC 18004) of a text. */
export function QrCode({ text }: { text: string }) {
  const svg = useMemo(() => qrcode({ bcid: 'qrcode', text }, drawingSVG()), [text]);
  return <div className="qr" role="img" aria-label={`QR code of ${text}`} dangerouslySetInnerHTML={{ __html: svg }} />;
}

/** Bars of Code 128 (ISO/IEC 15417) of a text. */
export function Code128({ text }: { text: string }) {
  const svg = useMemo(
    () =>
      code128({ bcid: 'code128', text, height: 8, includetext: false }, drawingSVG()).replace(
        '<svg ',
        '<svg preserveAspectRatio="none" ',
      ),
    [text],
  );
  return (
    <div className="bars" role="img" aria-label={`Code 128 of ${text}`} dangerouslySetInnerHTML={{ __html: svg }} />
  );
}
