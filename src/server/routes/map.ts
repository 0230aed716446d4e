import { graphFormats, graphTypes, writeGraph } from '../../core/map/graphText';
import { isNetwork } from '../../core/map/overlay';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf, vlanAsked } from '../things/ask';

const known = ['survey', 'against', 'vlan', 'network', 'format'];

/** `GET /map?survey&against&vlan&network&format`: devices and links as the map draws them, and since when things are known, by which they keep their places. */
export const GET = route('viewer', null, async ({ store, url }) => {
  for (const parameter of url.searchParams.keys())
    if (!known.includes(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${known.join(', ')}` }]);
  const vlan = vlanAsked(url);
  const network = url.searchParams.get('network');
  if (network !== null && !isNetwork(network))
    throw invalid([
      {
        path: 'network',
        message: 'must be a network like 10.72.4.0/24, before it its virtual router where it has one',
      },
    ]);
  const format = url.searchParams.get('format');
  const graph = graphFormats.find((one) => one === format);
  if (format !== null && !graph)
    throw invalid([{ path: 'format', message: `must be one of ${graphFormats.join(', ')}` }]);
  const { survey, against } = momentsOf(store, url.searchParams);
  const data = await tableAnswers(store).ask('mapData', survey, against, vlan, network);
  if (!graph || graph === 'json') return data;
  return new Response(writeGraph(data, graph), {
    headers: {
      'content-type': `${graphTypes[graph]}; charset=utf-8`,
      'content-disposition': `attachment; filename="map-survey-${survey}.${graph}"`,
      'cache-control': 'no-store',
    },
  });
});
