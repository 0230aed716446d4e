'use client';

import { useEffect, useRef, useState } from 'react';
import { vlanOf } from '@/core/map/overlay';
import { useView } from '../../lib/useView';
import { useSurveys } from '../../lib/useSurveys';
import { moment } from '../../lib/format';
import { ProblemNote } from '../../components/ProblemNote';
import { portsToldFrom } from '../distance';
import { paletteOf, type Palette } from '../palette';
import { writeSvg } from '../sheet';
import { usePortsNear } from '../usePortsNear';
import { useMapPicture } from '../useMapPicture';
import { colouredWords } from '../colouredWords';
import { PrintedBy } from '../../components/PrintedBy';
import { TextButton } from '../../components/TextButton';

/** from so near that devices are drawn; of a few, all their ports as well */
const near = 1;
const few = 40;

/** The map on paper: title, date, survey, the drawing, and what is wrong on it as a list. */
export function PrintedMap({ by }: { by: string }) {
  const view = useView();
  const { overlay, data, picture, tracing, lit } = useMapPicture(view);
  const surveys = useSurveys();
  const paper = useRef<HTMLElement>(null);
  const { ports, near: bring } = usePortsNear(data.data?.survey ?? null, data.data?.against ?? null, vlanOf(overlay));
  const isFew = picture !== null && picture.plates.length <= few;
  useEffect(() => {
    if (isFew) bring(picture.plates.map(({ device }) => device.id));
  }, [isFew, picture, bring]);
  const [colours, setColours] = useState<Palette | null>(null);
  useEffect(() => {
    if (paper.current) setColours(paletteOf(paper.current));
  }, [picture]);
  if (data.error)
    return (
      <main className="paper">
        <ProblemNote problem={data.error} />
      </main>
    );
  const survey = data.data?.survey ?? 0;
  const at = surveys.data?.rows.find(({ id }) => id === survey)?.startedAt;
  const words = colouredWords(overlay, tracing);
  const wrong = picture?.links.filter(({ link, pale }) => link.issues.length > 0 && !pale) ?? [];
  return (
    <main className="paper" ref={paper}>
      <p className="screen-only">
        <TextButton disabled={!picture} onClick={() => window.print()}>
          Print
        </TextButton>{' '}
        <span className="quiet">lying, on the largest paper you have</span>
      </p>
      <h1>{tracing && lit.trace ? `From ${lit.trace.from.words} to ${lit.trace.to.words}` : 'Network map'}</h1>
      <p className="about">
        As of {at ? moment(at) : '…'}, survey {survey}
        {words && `, ${words}`}. {picture && `${picture.plates.length} devices, ${picture.links.length} links.`}{' '}
        <PrintedBy by={by} />
      </p>
      {picture && colours ? (
        <div
          className="printedmap"
          role="img"
          aria-label={`Map of ${picture.plates.length} devices`}
          dangerouslySetInnerHTML={{
            __html: writeSvg({
              picture,
              colours,
              title: '',
              about: '',
              scale: isFew ? portsToldFrom : near,
              ports,
              folding: { folded: new Set(), open: new Set() },
            }),
          }}
        />
      ) : (
        <p>placing the devices…</p>
      )}
      {wrong.length > 0 && (
        <>
          <h2>What is wrong on it</h2>
          <ul>
            {wrong.flatMap(({ link }) => link.issues.map((issue) => <li key={`${link.id} ${issue}`}>{issue}</li>))}
          </ul>
        </>
      )}
    </main>
  );
}
