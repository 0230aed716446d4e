'use client';

import Button from '@mui/material/Button';
import { Choices } from '../components/Choices';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { graphTypes, writeGraph, type GraphFormat } from '@/core/map/graphText';
import type { MapData } from '@/core/map/mapData';
import { useView } from '../lib/useView';
import { moment } from '../lib/format';
import { Link } from '../components/Link';
import { onPaper, pngOf, saveFile } from '../lib/takeAway';
import { useSurveys } from '../lib/useSurveys';
import { devicesDrawnFrom, portsVisible, type Folding } from './distance';
import { paletteOf } from './palette';
import type { Paper } from './pdfPen';
import type { Picture } from './picture';
import { writeSvg, type Sheet } from './sheet';
import { mostAtOnce, type PortsAsked } from './usePortsNear';
import { TextButton } from '../components/TextButton';
import { PlainInput } from '../components/PlainInput';
import { PlainSelect } from '../components/PlainSelect';

const kinds = ['SVG', 'PNG', 'PDF', 'GraphML', 'graph text', 'JSON'] as const;
type Kind = (typeof kinds)[number];
const about: Record<Kind, string> = {
  SVG: 'a drawing with real text, for any size',
  PNG: 'a picture of so many pixels',
  PDF: 'one page of paper',
  GraphML: 'devices and links for programs that work on graphs',
  'graph text': 'a line a device and a line a link, as programs that lay out graphs read them',
  JSON: 'devices and links for scripts',
};
const graphs: Partial<Record<Kind, GraphFormat>> = { GraphML: 'graphml', 'graph text': 'dot', JSON: 'json' };
const papers: Paper[] = ['A4', 'A3', 'A2'];
const [narrowest, widest] = [320, 16_000];

/** Paper is white and ink is black, whatever theme the screen has. */
const paperPalette = (): ReturnType<typeof paletteOf> => onPaper(paletteOf);

/** The map to take away, as it is looked at: from as far, with the same colours, around the same things. */
export function PictureDialog({
  picture,
  data,
  folding,
  scale,
  words,
  askPorts,
}: {
  picture: Picture | null;
  data: MapData | undefined;
  folding: Folding;
  scale: () => number;
  words: string;
  askPorts: PortsAsked;
}) {
  const view = useView();
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<Kind>('SVG');
  const [width, setWidth] = useState('2560');
  const [paper, setPaper] = useState<Paper>('A3');
  const [mistake, setMistake] = useState('');
  const [busy, setBusy] = useState(false);
  const surveys = useSurveys();
  const pixels = Number(width);
  const wrongWidth = kind === 'PNG' && (!Number.isInteger(pixels) || pixels < narrowest || pixels > widest);
  const take = async () => {
    if (!picture || !data) return;
    setBusy(true);
    setMistake('');
    try {
      const at = surveys.data?.rows.find(({ id }) => id === data.survey)?.startedAt;
      // from so near their ports are on it, of so many as one can ask for at once
      const devices = portsVisible(scale()) > 0.5 && !graphs[kind] ? picture.plates.map(({ device }) => device.id) : [];
      const ports = devices.length > 0 && devices.length <= mostAtOnce ? await askPorts(devices) : undefined;
      const sheet: Sheet = {
        picture,
        folding,
        ...(ports && { ports }),
        scale: Math.max(devicesDrawnFrom, scale()),
        colours: kind === 'PDF' ? paperPalette() : paletteOf(document.documentElement),
        title: 'Network map',
        about: [
          `survey ${data.survey}${at ? `, ${moment(at)}` : ''}`,
          `${picture.plates.length} devices, ${picture.links.length} links`,
          words,
        ]
          .filter(Boolean)
          .join(' · '),
      };
      const name = `bolide-map-survey-${data.survey}`;
      const graph = graphs[kind];
      if (graph)
        saveFile(
          new Blob(
            [
              writeGraph(
                {
                  survey: data.survey,
                  devices: picture.plates.map(({ device }) => device),
                  links: picture.links.map(({ link }) => link),
                },
                graph,
              ),
            ],
            { type: graphTypes[graph] },
          ),
          `${name}.${graph}`,
        );
      else if (kind === 'SVG') saveFile(new Blob([writeSvg(sheet)], { type: 'image/svg+xml' }), `${name}.svg`);
      else if (kind === 'PNG') saveFile(await pngOf(writeSvg(sheet), pixels), `${name}.png`);
      else saveFile(await (await import('./pdfPen')).writePdf(sheet, paper), `${name}.pdf`);
      setOpen(false);
    } catch (error) {
      setMistake(error instanceof Error ? error.message : 'That did not work.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <TextButton disabled={!picture} aria-haspopup="dialog" onClick={() => setOpen(true)}>
        Take away
      </TextButton>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="xs" fullWidth aria-labelledby="take-away">
        <DialogTitle id="take-away">Take the map away</DialogTitle>
        <DialogContent>
          <p className="quiet small">As it is shown: what is left away is not in it, what is pale is pale.</p>
          <fieldset className="kinds">
            <legend className="small quiet">as</legend>
            <Choices
              label="as"
              name="kind"
              row={false}
              value={kind}
              choices={kinds.map((one) => ({
                value: one,
                words: (
                  <>
                    {one} <span className="quiet small">{about[one]}</span>
                  </>
                ),
              }))}
              onChange={setKind}
            />
          </fieldset>
          {kind === 'PNG' && (
            <p>
              <label>
                Pixels across{' '}
                <PlainInput
                  type="number"
                  min={narrowest}
                  max={widest}
                  value={width}
                  aria-invalid={wrongWidth}
                  onChange={(event) => setWidth(event.target.value)}
                  style={{ width: 90 }}
                />
              </label>
              {wrongWidth && (
                <span role="alert" className="mistake small">
                  {' '}
                  a whole number from {narrowest} to {widest}
                </span>
              )}
            </p>
          )}
          {kind === 'PDF' && (
            <p>
              <label>
                Paper{' '}
                <PlainSelect value={paper} onChange={(event) => setPaper(event.target.value as Paper)}>
                  {papers.map((one) => (
                    <option key={one}>{one}</option>
                  ))}
                </PlainSelect>
              </label>
            </p>
          )}
          {mistake && (
            <p role="alert" className="mistake">
              {mistake}
            </p>
          )}
        </DialogContent>
        <DialogActions>
          <Link
            href={view.href(
              '/print/map',
              Object.fromEntries(
                (['over', 'where', 'near', 'steps', 'rest', 'pins', 'outline', 'of', 'from', 'to'] as const).map(
                  (name) => [name, view[name]],
                ),
              ),
            )}
            target="_blank"
          >
            Print
          </Link>
          <Button onClick={() => setOpen(false)}>Cancel</Button>
          <Button variant="contained" disabled={wrongWidth || busy} onClick={() => void take()}>
            {busy ? 'Drawing…' : 'Save'}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
