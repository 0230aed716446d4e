import { backupRoutes } from '../backup/routes';
import { captureAgentRoutes, captureRoutes } from '../captures/routes';
import { checkRoutes } from '../checks/routes';
import { coverRoutes } from '../cover/routes';
import { applicationRoutes } from '../dependencies/applicationRoutes';
import { dependencyRoutes } from '../dependencies/routes';
import { editRoutes } from '../edits/routes';
import { estateRoutes } from '../estate/routes';
import { firmwareRoutes } from '../firmware/routes';
import { floorRoutes } from '../floor/routes';
import { groupRoutes } from '../groups/routes';
import { healthRoutes } from '../health/routes';
import { importRoutes } from '../imports/routes';
import { keepingRoutes } from '../keeping/routes';
import { mapRoutes } from '../map/routes';
import { ownRoutes } from '../own/routes';
import { peopleRoutes } from '../people/routes';
import { sessionRoutes } from '../people/sessionRoutes';
import { portRoutes } from '../ports/routes';
import { settingsRoutes } from '../settings/routes';
import { siteRoutes } from '../sites/routes';
import { surveyRoutes } from '../survey/routes';
import { saidNeedRoutes } from '../dependencies/saidNeedRoutes';
import { workRoutes } from '../works/routes';
import { openApi } from './openApi';
import { inArea, route, type Route } from './route';

const generalRoutes = [
  ...healthRoutes,
  route({
    method: 'GET',
    path: '/openapi.json',
    role: 'anyone',
    summary: 'This description',
    answer: { type: 'object', description: 'OpenAPI 3.1' },
    run: () => openApi(allRoutes),
  }),
];

/** Every route there is. A domain brings its own list, and says to which part of the API it belongs. */
export const allRoutes: readonly Route[] = [
  ...generalRoutes,
  ...sessionRoutes,
  ...inArea('people', peopleRoutes),
  ...inArea('surveys', surveyRoutes),
  ...inArea('agents', captureAgentRoutes),
  ...inArea('surveys', captureRoutes),
  ...inArea('estate', estateRoutes),
  ...inArea('ports', portRoutes),
  ...inArea('map', mapRoutes),
  ...inArea('map', floorRoutes),
  ...inArea('dependencies', dependencyRoutes),
  ...inArea('dependencies', applicationRoutes),
  ...inArea('dependencies', workRoutes),
  ...inArea('dependencies', saidNeedRoutes),
  ...inArea('knowledge', editRoutes),
  ...inArea('knowledge', importRoutes),
  ...inArea('knowledge', ownRoutes),
  ...inArea('knowledge', groupRoutes),
  ...inArea('checks', checkRoutes),
  ...inArea('knowledge', coverRoutes),
  ...inArea('firmware', firmwareRoutes),
  ...inArea('settings', settingsRoutes),
  ...inArea('settings', backupRoutes),
  ...inArea('settings', keepingRoutes),
  ...inArea('knowledge', siteRoutes),
];
