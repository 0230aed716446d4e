'use client';

import Dialog from '@mui/material/Dialog';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import { destinationOf, matching, pages, type Destination, type FoundThing } from './destinations';
import { useGo } from '../../lib/useGo';
import { useView } from '../../lib/useView';
import { PlainInput } from '../../components/PlainInput';

const most = 10;
const leastGuess = 4;

/** Any name, address, MAC in any notation, serial, VLAN, table or act, from the keyboard; a letter wrong does no harm. */
export function GoTo({
  open,
  onClose,
  acts,
  takeTyped,
}: {
  open: boolean;
  onClose: () => void;
  acts: Destination[];
  /** what was typed before this was there */
  takeTyped: () => string;
}) {
  const [text, setText] = useState(takeTyped);
  const [at, setAt] = useState(0);
  const [going, setGoing] = useState(false);
  const taken = useRef(false);
  const isNew = useRef(true);
  // whoever went somewhere is there: the field they came from must not get the next keys, as the dialog would have it
  useEffect(() => {
    if (open || !taken.current) return;
    taken.current = false;
    const { activeElement } = document;
    if (activeElement instanceof HTMLElement && !activeElement.closest('[role=dialog]')) activeElement.blur();
  }, [open]);
  const goThere = useGo();
  const view = useView();
  const wanted = text.trim();
  const { data, error, isPlaceholderData, isFetching } = useQuery<{ rows: FoundThing[] }, ApiProblem>({
    queryKey: ['find', wanted, view.survey],
    enabled: open && wanted !== '',
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call<{ rows: FoundThing[] }>(
        `find?${new URLSearchParams({ text: wanted, most: String(most), ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  const all = [...pages(view.href), ...acts];
  const places =
    wanted === ''
      ? all.slice(0, most)
      : [...(data?.rows ?? []).map((row) => destinationOf(row, view.href)), ...matching(all, wanted)]
          .sort((x, y) => x.rank - y.rank)
          .slice(0, most + 2);
  const chosen = Math.min(at, places.length - 1);
  const go = (place: Destination | undefined) => {
    if (!place) return;
    taken.current = true;
    onClose();
    setText('');
    setAt(0);
    if (place.act) place.act();
    else if (place.href) goThere(place.href);
  };
  const behind = wanted !== '' && (isPlaceholderData || (isFetching && !data));
  useEffect(() => {
    if (!going || behind) return;
    setGoing(false);
    go(places[chosen]);
    // as soon as the answer to what was written is there
    // oxlint-disable-next-line react/exhaustive-deps
  }, [going, behind]);
  const firstGuess = places.findIndex(({ rank }) => rank >= leastGuess);
  return (
    <Dialog
      open={open}
      onClose={onClose}
      maxWidth="sm"
      fullWidth
      aria-label="Go to"
      sx={{ '& .MuiDialog-container': { alignItems: 'flex-start' } }}
    >
      <div style={{ padding: 14 }}>
        <div className="filter" style={{ maxWidth: 'none' }}>
          <PlainInput
            autoFocus
            type="text"
            role="combobox"
            aria-expanded={places.length > 0}
            aria-controls="goto-list"
            aria-activedescendant={chosen >= 0 ? `goto-${chosen}` : undefined}
            aria-label="Go to a name, address, MAC, serial, VLAN or page"
            placeholder="a name, address, MAC, serial, VLAN or page"
            value={text}
            // what was written last is overwritten by the next letter; what is being written is gone on with
            onFocus={({ target }) => {
              if (isNew.current) target.setSelectionRange(target.value.length, target.value.length);
              else target.select();
              isNew.current = false;
            }}
            spellCheck={false}
            autoComplete="off"
            onChange={(event) => {
              setText(event.target.value);
              setAt(0);
              setGoing(false);
            }}
            onKeyDown={(event) => {
              if (event.key === 'ArrowDown') setAt(Math.min(places.length - 1, chosen + 1));
              else if (event.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
              // what is on the screen may be of an earlier letter: then it is waited for
              else if (event.key === 'Enter') {
                if (behind) setGoing(true);
                else go(places[chosen]);
              } else return;
              event.preventDefault();
            }}
          />
        </div>
        <ul
          id="goto-list"
          role="listbox"
          aria-label="Destinations"
          aria-busy={isPlaceholderData}
          style={{ marginTop: 8 }}
        >
          {places.map((place, index) => (
            <li
              key={place.key}
              id={`goto-${index}`}
              role="option"
              aria-selected={index === chosen}
              onClick={() => go(place)}
              className="destination"
              data-chosen={index === chosen || undefined}
            >
              {index === firstGuess && <span className="quiet small guess">written a little otherwise</span>}
              <b>{place.words}</b> <span className="quiet">{place.more}</span>
            </li>
          ))}
        </ul>
        {error && (
          <p role="alert" style={{ padding: 8 }}>
            {error.words}
          </p>
        )}
        {!error && places.length === 0 && !isPlaceholderData && data && (
          <p className="quiet" style={{ padding: 8 }}>
            Nothing here has “{wanted}” in its name, addresses, MAC or serial, not even with a letter wrong.
          </p>
        )}
      </div>
    </Dialog>
  );
}
