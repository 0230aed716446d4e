'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from '@/ui/components/Link';
import { vlanOf } from '@/core/map/overlay';
import { compareNaturally } from '@/core/values/naturalOrder';
import { useView } from '../lib/useView';
import { standsInTheWay } from '../lib/api';
import { AnyDossier } from '../features/dossier/AnyDossier';
import { FilterField } from '../components/filter/FilterField';
import { Glyph } from '../components/Glyph';
import { Panel } from '../components/Panel';
import { ProblemNote } from '../components/ProblemNote';
import { usePreference } from '../lib/usePreference';
import { ExportMenu } from '../components/table/tools/ExportMenu';
import { ViewMenu } from '../features/views/ViewMenu';
import { ColourChoice } from './ColourChoice';
import { colouredWords } from './colouredWords';
import type { Folding, InSight } from './distance';
import { Legend } from './Legend';
import { LinkDossier } from './LinkDossier';
import { MapCanvas, type MapHandle } from './MapCanvas';
import { MapList } from './MapList';
import { MapViews } from './MapViews';
import { PictureDialog } from './PictureDialog';
import { pictureOf, type Wanted } from './picture';
import { SiteDossier } from './SiteDossier';
import { TraceList } from './trace/TraceList';
import { usePortsNear } from './usePortsNear';
import { mostLinks, nearWords, stepsOf, useMapPicture } from './useMapPicture';
import { CheckBox } from '../components/CheckBox';
import { TextButton } from '../components/TextButton';
import { PlainSelect } from '../components/PlainSelect';
import { PlainInput } from '../components/PlainInput';
import { fetched } from '../lib/fetched';
import { opening } from '../components/opening';

const everything: Wanted = { devices: null, links: null, hide: false };

const HostsView = fetched(() => import('./hosts/HostsView').then((module) => module.HostsView), opening('Hosts'));

const FabricView = fetched(() => import('./fabric/FabricView').then((module) => module.FabricView), opening('Fabric'));

/** How it all hangs together: the plan of sites and devices, hosts from their machines to the switches, or a fabric with its tenants. */
export function MapWorkspace() {
  const { of } = useView();
  return of === 'hosts' ? <HostsView /> : of === 'fabric' ? <FabricView /> : <NetworkPlan />;
}

/** Sites, devices and their ports, from as far as one likes, with who claims each link beside it. */
function NetworkPlan() {
  const view = useView();
  const {
    overlay,
    data,
    pinned: { pins, move, automatic, undo },
    layout,
    filtered,
    tracing,
    lit,
    rule,
    picture,
  } = useMapPicture(view);
  const {
    ports,
    near: bringPorts,
    ask: askPorts,
    problem: portsProblem,
  } = usePortsNear(data.data?.survey ?? null, data.data?.against ?? null, vlanOf(overlay));
  const groups = useMemo(
    () => [...new Set(data.data?.devices.flatMap((device) => device.groups ?? []))].sort(compareNaturally),
    [data.data],
  );
  const [toggled, setToggled] = useState<ReadonlySet<string>>(new Set());
  const [inSight, setInSight] = useState<InSight | null>(null);
  const [listed, setListed] = usePreference('map.list', true);
  const map = useRef<MapHandle>(null);
  const folding = useMemo((): Folding => foldingOf(toggled), [toggled]);
  // a site is told of as it is, whatever is looked for on the map
  const chosenSite = /^site:(.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  const whole = useMemo(
    () => (chosenSite !== null && layout && data.data ? pictureOf(data.data, layout, rule, everything) : null),
    [chosenSite, layout, data.data, rule],
  );
  const site = whole?.sites.find(({ bay }) => bay.site === chosenSite);
  const linkId = /^link:(.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  const portId = /^port:(\d+:.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  const deviceId = /^device:(\d+)$/.exec(view.sel ?? '')?.[1] ?? null;
  // the way is brought into sight as a whole
  const way = lit.lit ? `devices:${[...lit.lit.devices].join(',')}` : null;
  const ready = picture !== null;
  useEffect(() => {
    if (way && ready) map.current?.bring(way);
  }, [way, ready]);
  const choose = (sel: string | null) => view.set({ sel });
  const show = (sel: string) => {
    choose(sel);
    map.current?.bring(sel);
  };
  const ownDevice = deviceId ?? portId?.split(':')[0];
  const near = ownDevice ? `device:${ownDevice}` : site ? `site:${site.bay.site}` : null;
  if (standsInTheWay(data.error, data.data))
    return (
      <main className="work">
        <ProblemNote problem={data.error} />
      </main>
    );
  const empty = data.data?.devices.length === 0;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>{tracing ? 'Trace' : 'Map'}</h1>
          <span className="quiet sparable" style={{ whiteSpace: 'nowrap' }}>
            {data.data && `${data.data.devices.length} devices, ${data.data.links.length} links`}
          </span>
          {!tracing && (
            <FilterField
              about={{ thing: 'links', survey: view.survey, against: view.against }}
              value={view.where}
              onChange={(where) => view.set({ where })}
              problem={filtered.error}
              hint="links: confidence=claimed; a device"
            />
          )}
          {!tracing && (
            <TextButton aria-pressed={listed} onClick={() => setListed(!listed)}>
              List
            </TextButton>
          )}
          <ViewMenu path="/map" columns={[]} />
          <PictureDialog
            picture={picture}
            data={data.data}
            folding={folding}
            scale={() => map.current?.scale() ?? 1}
            words={colouredWords(overlay, tracing)}
            askPorts={askPorts}
          />
          <ExportMenu
            thing="links"
            request={{ survey: view.survey, against: view.against, where: view.where, sort: '' }}
            columns={['from', 'fromPort', 'to', 'toPort', 'kind', 'speedBps', 'confidence', 'blocked', 'issueWords']}
          />
        </div>
        <MapViews current={tracing ? 'trace' : 'map'}>
          {!tracing && (
            <ColourChoice overlay={overlay} onChoose={(over) => view.set({ over: over === 'state' ? null : over })} />
          )}
          {!tracing && groups.length > 0 && (
            <label className="mapcolour small quiet">
              outline{' '}
              <PlainSelect
                value={view.outline ?? ''}
                aria-label="The group to outline"
                onChange={(event) => view.set({ outline: event.target.value })}
              >
                <option value="">no group</option>
                {groups.map((group) => (
                  <option key={group}>{group}</option>
                ))}
              </PlainSelect>
            </label>
          )}
        </MapViews>
        {/* always there: what one chooses must not push the map down */}
        {!empty && !tracing && (
          <div className="mapfocus small">
            {view.near ? (
              <>
                <span>
                  only around <b>{nearWords(view.near, data.data?.devices ?? [])}</b>
                </span>
                <label>
                  steps{' '}
                  <PlainInput
                    type="number"
                    min={0}
                    max={9}
                    value={stepsOf(view.steps)}
                    aria-label="How many links from there"
                    onChange={(event) => view.set({ steps: String(stepsOf(event.target.value)) })}
                  />
                </label>
                <TextButton onClick={() => view.set({ near: null, steps: null, rest: null })}>the whole map</TextButton>
              </>
            ) : (
              near && (
                <TextButton onClick={() => view.set({ near, steps: '1' })}>
                  Only around {nearWords(near, data.data?.devices ?? [])}
                </TextButton>
              )
            )}
            {(view.near || view.where) && (
              <CheckBox
                label="leave the rest away"
                checked={view.rest === 'hide'}
                onChange={(isChosen) => view.set({ rest: isChosen ? 'hide' : null })}
              />
            )}
            {pins.length > 0 && (
              <span className="quiet">
                {pins.length} moved by hand, <TextButton onClick={automatic}>put back (A)</TextButton>
              </span>
            )}
            {undo && (
              <span className="quiet">
                {pins.length === 0 && 'everything is where it was placed, '}
                <TextButton aria-label="Undo the last move" onClick={undo}>
                  undo
                </TextButton>
              </span>
            )}
            {!view.near && !near && pins.length === 0 && !undo && !view.where && (
              <span className="quiet">
                Press a device, a link or a site to look at it; dragged, it stays where you put it.
              </span>
            )}
            {view.where && filtered.data && (
              <span className="quiet">
                {filtered.data.total} links fit{filtered.data.total > mostLinks && `, the first ${mostLinks} are shown`}
              </span>
            )}
          </div>
        )}
        {empty ? (
          <div className="empty">
            <h2>There is nothing to draw yet</h2>
            <p className="quiet">
              <Link href={view.href('/survey')}>Run a survey</Link>: devices and the links between them then stand here,
              each with who says that it is there.
            </p>
          </div>
        ) : (
          <div className="mapwhole">
            {tracing && (
              <TraceList
                lit={lit}
                nameOf={(id) => data.data?.devices.find((device) => String(device.id) === id)?.name}
                chosen={view.sel}
                onShow={show}
              />
            )}
            {listed && !tracing && picture && (
              <MapList picture={picture} ports={ports} chosen={view.sel} onChoose={choose} onShow={show} />
            )}
            <div className="map" aria-busy={picture === null}>
              {picture ? (
                <MapCanvas
                  picture={picture}
                  folding={folding}
                  ports={ports}
                  onNear={bringPorts}
                  chosen={view.sel}
                  onChoose={choose}
                  onSight={setInSight}
                  handle={map}
                  onMove={move}
                  onAutomatic={automatic}
                  onFold={(own) => setToggled((before) => toggledWith(before, own, map.current?.scale() ?? 1))}
                  label={`Map of ${picture.plates.length} devices at ${picture.sites.length} sites. Arrow keys walk along links, Enter goes nearer, P goes to the ports of a device and back, F folds or opens a site, 0 shows everything; what is chosen is moved by dragging it or by Shift and arrows, A puts everything back; the list beside it holds the same.`}
                />
              ) : (
                <p className="empty quiet">placing the devices…</p>
              )}
              {portsProblem && (
                <p role="alert" className="mapnote small">
                  <Glyph name="fault" /> The ports are not there: {portsProblem}
                </p>
              )}
              {inSight && <Legend inSight={inSight} />}
            </div>
          </div>
        )}
      </main>
      {linkId && (
        <Panel label="Link">
          <LinkDossier key={linkId} id={linkId} />
        </Panel>
      )}
      {portId && (
        <Panel label="Port">
          <AnyDossier thing="ports" id={portId} />
        </Panel>
      )}
      {deviceId && (
        <Panel label="Dossier">
          <AnyDossier thing="devices" id={deviceId} />
        </Panel>
      )}
      {site && whole && (
        <Panel label="Site">
          <SiteDossier
            site={site}
            picture={whole}
            onChoose={show}
            onNear={() => view.set({ near: `site:${site.bay.site}`, steps: '1' })}
          />
        </Panel>
      )}
    </div>
  );
}

/** What was folded by hand, `-SGH`, and what was opened, `+SGH`. */
function foldingOf(toggled: ReadonlySet<string>): Folding {
  const of = (sign: string) => new Set([...toggled].filter((one) => one.startsWith(sign)).map((one) => one.slice(1)));
  return { folded: of('-'), open: of('+') };
}

/** Opened from afar or folded from near; a second time it is again as the distance says. */
function toggledWith(before: ReadonlySet<string>, site: string, scale: number): ReadonlySet<string> {
  const rest = [...before].filter((one) => one.slice(1) !== site);
  return new Set(rest.length < before.size ? rest : [...rest, `${scale < 0.45 ? '+' : '-'}${site}`]);
}
