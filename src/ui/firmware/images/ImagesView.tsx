'use client';

import { Panel } from '../../components/Panel';
import { TextButton } from '../../components/TextButton';
import { ThingDossier } from '../../features/dossier/ThingDossier';
import { useView } from '../../lib/useView';
import { ListView } from '../ListView';

/** Which images of releases are there, and whether they are what the catalogue says. */
export function ImagesView() {
  const view = useView();
  const chosen = /^image:(.*)$/s.exec(view.sel ?? '')?.[1] ?? null;
  return (
    <ListView
      thing="images"
      current="images"
      label="Images"
      pictures={['state', 'family']}
      counted={(total) => `${total.toLocaleString('en')} ${total === 1 ? 'image' : 'images'}`}
      hint={'a name; state="wrong hash"; state=missing'}
      selected={chosen}
      onSelect={(id) => view.set({ sel: `image:${id}` })}
      empty={
        <>
          <h2>No release names an image</h2>
          <p className="quiet">
            Say in the catalogue which file a release is, and put that file into the folder <code>images</code> beside
            the data: it is read by itself.
          </p>
        </>
      }
      panel={
        chosen !== null && (
          <Panel label="Image">
            <p className="small">
              <TextButton onClick={() => view.set({ sel: null })}>Close</TextButton>
            </p>
            <ThingDossier thing="images" id={chosen} />
            <p className="quiet">
              Files that are put into the folder <code>images</code> beside the data are read by themselves, a few
              seconds after they were changed last.
            </p>
          </Panel>
        )
      }
    />
  );
}
