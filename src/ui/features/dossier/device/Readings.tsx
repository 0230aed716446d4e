'use client';

import { ReadingLine } from '../../../components/ReadingLine';
import type { SectionProps } from './dossierTypes';

/** Readings and sensors over the surveys, and the sensors that tell no value now. */
export function Readings({ dossier: { readings: lines, sensors } }: SectionProps) {
  const mute = sensors.filter(({ value }) => value === null);
  if (lines.length === 0 && mute.length === 0) return null;
  return (
    <section className="section">
      <h3>Readings</h3>
      <table className="plain">
        <tbody>
          {lines.map((series) => (
            <ReadingLine key={series.name} series={series} />
          ))}
          {mute.map(({ name, state }) => (
            <tr key={name}>
              <td>{name.split(' / ').slice(1).join(' / ') || name}</td>
              <td />
              <td className="quiet">{state === 'nonoperational' ? 'broken' : 'no value'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
