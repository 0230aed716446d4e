'use client';

import type { ThingField } from '@/core/things/thing';
import type { ThingName } from '@/core/things/things';
import { useFieldsOf } from '../../lib/ownFields';
import { usePreference } from '../../lib/usePreference';

/** A picture over the rows of a table: shares of one field's values, or of two fields against each other. */
export interface PictureChoice {
  field: string;
  /** against this one */
  other?: string;
  /** as parts of the whole, in per cent, in place of bars */
  asShares?: boolean;
}

export const mostPictures = 4;

/** A field that shares can be made of: one value a row. */
export const canBePictured = (fields: ThingField[]) => fields.filter(({ list }) => !list);

const read = (fields: ThingField[], list: string[]): PictureChoice[] => {
  const known = new Set(canBePictured(fields).map(({ name }) => name));
  return list
    .flatMap((text): PictureChoice[] => {
      const [, field = '', mark, other = ''] = /^([^*:]+)(?:(\*|:)(.*))?$/.exec(text) ?? [];
      if (!known.has(field)) return [];
      if (mark === '*') return known.has(other) ? [{ field, other }] : [];
      return [{ field, ...(other === 'shares' && { asShares: true }) }];
    })
    .slice(0, mostPictures);
};

/** The pictures a person has over a table, kept for good; those in the address of the page go before them, until they choose others. */
export function usePictures(
  thing: ThingName,
  atFirst: string[],
  fromAddress: string | null,
  leaveAddress: () => void,
): { pictures: PictureChoice[]; written: string; choose: (pictures: PictureChoice[]) => void } {
  const [kept, keep] = usePreference<string[] | null>(`pictures.${thing}`, null);
  const pictures = read(useFieldsOf()(thing), fromAddress !== null ? fromAddress.split(',') : (kept ?? atFirst));
  const write = (list: PictureChoice[]) =>
    list.map(({ field, other, asShares }) => (other ? `${field}*${other}` : asShares ? `${field}:shares` : field));
  return {
    pictures,
    written: write(pictures).join(',') || 'none',
    choose: (list) => {
      keep(write(list));
      if (fromAddress !== null) leaveAddress();
    },
  };
}
