'use client';

import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { things, type ThingName } from '@/core/things/things';
import { ActIcon } from '../ActIcon';
import { useFieldsOf } from '../../lib/ownFields';
import { canBePictured, mostPictures, type PictureChoice } from './usePictures';
import { PlainButton } from '../PlainButton';
import { PlainSelect } from '../PlainSelect';
import { DoneFoot } from '../dialogFeet';

/** Which pictures stand over a table: any field, as bars or as shares, or two against each other. */
export function PicturesDialog({
  thing,
  pictures,
  onChoose,
  onClose,
}: {
  thing: ThingName;
  pictures: PictureChoice[];
  onChoose: (pictures: PictureChoice[]) => void;
  onClose: () => void;
}) {
  const fields = canBePictured(useFieldsOf()(thing));
  const change = (at: number, picture: PictureChoice | null) =>
    onChoose(
      picture
        ? [...pictures.slice(0, at), picture, ...pictures.slice(at + 1)]
        : pictures.filter((_, place) => place !== at),
    );
  return (
    <Dialog open onClose={onClose} maxWidth="xs" aria-labelledby="pictures-title">
      <DialogTitle id="pictures-title">Pictures over {things[thing].title.toLowerCase()}</DialogTitle>
      <DialogContent>
        <ul className="conditions" aria-label="Pictures">
          {[...pictures, null].slice(0, mostPictures).map((picture, at) => (
            <li key={picture ? `${picture.field} ${picture.other ?? ''}` : 'new'}>
              <PlainSelect
                aria-label={`Picture ${at + 1} by`}
                value={picture?.field ?? ''}
                onChange={(event) =>
                  change(at, {
                    field: event.target.value,
                    ...(picture?.asShares && { asShares: true }),
                    ...(picture?.other && picture.other !== event.target.value && { other: picture.other }),
                  })
                }
              >
                {!picture && <option value="">add a picture…</option>}
                {fields.map(({ name, label }) => (
                  <option
                    key={name}
                    value={name}
                    disabled={pictures.some((own, place) => place !== at && own.field === name && !own.other)}
                  >
                    {label}
                  </option>
                ))}
              </PlainSelect>
              {picture && (
                <>
                  <PlainSelect
                    aria-label={`Picture ${at + 1} as`}
                    value={picture.other ?? (picture.asShares ? ':shares' : '')}
                    onChange={({ target: { value } }) =>
                      change(at, {
                        field: picture.field,
                        ...(value === ':shares' ? { asShares: true } : value && { other: value }),
                      })
                    }
                  >
                    <option value="">as bars</option>
                    <option value=":shares">as shares</option>
                    {fields
                      .filter(({ name }) => name !== picture.field)
                      .map(({ name, label }) => (
                        <option key={name} value={name}>
                          against {label.toLowerCase()}
                        </option>
                      ))}
                  </PlainSelect>
                  <PlainButton aria-label={`Take picture ${at + 1} away`} onClick={() => change(at, null)}>
                    <ActIcon act="remove" />
                  </PlainButton>
                </>
              )}
            </li>
          ))}
        </ul>
      </DialogContent>
      <DoneFoot onDone={onClose}>
        <Button
          color="secondary"
          onClick={() => {
            onChoose([]);
            onClose();
          }}
        >
          None
        </Button>
      </DoneFoot>
    </Dialog>
  );
}
