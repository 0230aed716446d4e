/** One time span in which a serial was seen in a place. Survey numbers; `untilSurvey` null while it holds. */
export interface SerialSighting {
  serial: string;
  what: string;
  model: string;
  class: string;
  device: string;
  deviceId: number;
  place: string;
  site: string;
  fromSurvey: number;
  untilSurvey: number | null;
}

export interface LedgerRow {
  serial: string;
  what: string;
  model: string;
  class: string;
  state: 'in service' | 'gone';
  device: string;
  deviceId: number;
  place: string;
  site: string;
  firstSeen: string;
  lastSeen: string;
  moves: number;
  history: { device: string; place: string; from: string; until: string | null }[];
}

/**
 * The life of every serial: where it is, or was last, and since when. A serial with no open sighting is gone.
 * @param momentOf survey number → ISO time of that survey
 * @param at number of the survey looked at; later sightings are not known yet
 * @param lastBefore the survey before a given one, for "last seen"
 */
export function ledgerOf(
  sightings: SerialSighting[],
  at: number,
  momentOf: (survey: number) => string,
  lastBefore: (survey: number) => number,
): LedgerRow[] {
  const bySerial = new Map<string, SerialSighting[]>();
  for (const sighting of sightings) {
    if (sighting.fromSurvey > at) continue;
    const list = bySerial.get(sighting.serial);
    if (list) list.push(sighting);
    else bySerial.set(sighting.serial, [sighting]);
  }
  return [...bySerial.values()].flatMap((list) => {
    const spans = mergeSpans(
      list.sort((x, y) => x.fromSurvey - y.fromSurvey || (x.untilSurvey ?? Infinity) - (y.untilSurvey ?? Infinity)),
    );
    const open = spans.filter(({ untilSurvey }) => untilSurvey === null || untilSurvey > at);
    const latest = open.at(-1) ?? spans.at(-1);
    const first = spans[0];
    if (!latest || !first) return [];
    return [
      {
        serial: latest.serial,
        what: latest.what,
        model: latest.model,
        class: latest.class,
        state: open.length > 0 ? ('in service' as const) : ('gone' as const),
        device: latest.device,
        deviceId: latest.deviceId,
        place: latest.place,
        site: latest.site,
        firstSeen: momentOf(first.fromSurvey),
        lastSeen: open.length > 0 ? momentOf(at) : momentOf(lastBefore(latest.untilSurvey ?? at)),
        moves: spans.length - 1,
        history: spans.map(({ device, place, fromSurvey, untilSurvey }) => ({
          device,
          place,
          from: momentOf(fromSurvey),
          until: untilSurvey === null || untilSurvey > at ? null : momentOf(lastBefore(untilSurvey)),
        })),
      },
    ];
  });
}

/** Versions of one row that follow each other in the same place are one span: only the place matters here. */
function mergeSpans(spans: SerialSighting[]): SerialSighting[] {
  const merged: SerialSighting[] = [];
  for (const span of spans) {
    const previous = merged.findLast(({ deviceId, place }) => deviceId === span.deviceId && place === span.place);
    if (previous && previous.untilSurvey === span.fromSurvey) {
      previous.untilSurvey = span.untilSurvey;
      previous.device = span.device;
      previous.model = span.model;
    } else merged.push({ ...span });
  }
  return merged;
}
