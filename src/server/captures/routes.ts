import { rmSync } from 'node:fs';
import path from 'node:path';
import * as yup from 'yup';
import { recordAct } from '../../store/audit';
import { readFlowState } from '../../store/flowState';
import { queueJob } from '../../store/jobs';
import { endsOfConversation } from '../../core/flow/talk';
import { talkBatchSchema, type ListenersAnswer } from '../../core/flow/talkBatch';
import { heardAgent, isSilentAgent, readCaptureAgents } from '../../store/captureAgents';
import { listenersKnown } from '../../store/listeners';
import { dropCapture, readCaptures } from '../../store/talk/captures';
import { talkHours } from '../../store/talk/hearings';
import { forgetBatches, mergeBatch } from '../../store/talk/live';
import { keepUpload, uploadFolder } from '../../store/uploads';
import { invalid, notFound } from '../access/problem';
import { text } from '../api/parameters';
import { asFile, megabytes, route } from '../api/route';
import { newestSurvey } from '../query/momentsAsked';

const longestName = 100;

/** What capture agents at hosts and mirror ports ask and send: a token for these may do nothing else. */
export const captureAgentRoutes = [
  route({
    method: 'GET',
    path: '/captures/listeners',
    role: 'operator',
    beside: true,
    summary: 'Who is known to listen where: what a capture agent may tell of',
    run: ({ store }): ListenersAnswer => {
      const survey = newestSurvey(store);
      const listeners = [...listenersKnown(store.db, survey)].map((one): ListenersAnswer['listeners'][number] => {
        const [address = '', protocol, port] = one.split(' ');
        return [address, Number(protocol), Number(port)];
      });
      return { survey, listeners };
    },
  }),
  route({
    method: 'POST',
    path: '/captures/batches',
    role: 'operator',
    beside: true,
    summary: 'Talk that a capture agent heard; each batch counts once, however often it arrives',
    body: talkBatchSchema,
    largest: megabytes(8),
    run: ({ store, body }) => {
      const now = new Date();
      const latest = now.getTime() / 1000 + 86_400;
      const ahead = body.talks.findIndex(({ lastSeen, firstSeen }) => lastSeen > latest || firstSeen > lastSeen);
      if (ahead >= 0)
        throw invalid([{ path: `talks[${ahead}].lastSeen`, message: 'lies ahead, or before it was first seen' }]);
      const { talks, id, ...told } = body;
      const wasKnown = mergeBatch(store.db, id, body.point, talks, now);
      heardAgent(store.db, told, now);
      forgetBatches(store.db, new Date(now.getTime() - batchDays * 86_400_000).toISOString());
      return { state: wasKnown ? 'known' : 'counted' };
    },
  }),
];

/** A batch is not sent again after so long. */
const batchDays = 60;

/** Captures of packets: which were taken in, and those that are sent. */
export const captureRoutes = [
  route({
    method: 'GET',
    path: '/captures',
    role: 'viewer',
    summary: 'Captures that were taken in, and where each was taken',
    run: ({ store }) => {
      const rows = readCaptures(store.db).toReversed();
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'GET',
    path: '/conversations/{id}/hours',
    role: 'viewer',
    summary: 'Hours since the epoch (UTC) in which captures and exporters heard a conversation',
    run: ({ store, params }) => {
      const ends = endsOfConversation(params.id);
      if (!ends) throw notFound(`conversation ${params.id}`);
      return { hours: talkHours(store.db, ends.client, ends.server, ends.port, ends.protocol) };
    },
  }),
  route({
    method: 'GET',
    path: '/captures/agents',
    role: 'viewer',
    summary: 'Who captures at hosts and mirror ports, when each was heard last, and what it could not count',
    run: ({ store }) => {
      const now = new Date();
      const rows = readCaptureAgents(store.db).map((one) => ({ ...one, isSilent: isSilentAgent(one, now) }));
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'GET',
    path: '/flows',
    role: 'viewer',
    summary: 'Who exports flows, what was heard and lost of each, and who sends without being let in',
    run: ({ store }) => ({ state: readFlowState(store.folder) }),
  }),
  route({
    method: 'POST',
    path: '/captures',
    role: 'operator',
    summary: 'Take a capture in (pcap or pcapng): who talked to whom',
    query: yup.object({
      name: text('how the file is called').default('capture'),
      point: text('where it was captured; what the file is called where nobody says').default(''),
    }),
    body: asFile('application/octet-stream', 'application/vnd.tcpdump.pcap', 'application/x-pcapng'),
    largest: megabytes(8192),
    run: async ({ store, person, query, body: { file } }) => {
      const name = query.name.trim().slice(0, longestName) || 'capture';
      const point = query.point.trim().slice(0, longestName) || name;
      const upload = await keepUpload(store.folder, file);
      try {
        const jobId = queueJob(store.db, 'capture', { upload, name, point });
        recordAct(store.db, person.name, 'took in a capture', name);
        return { jobId };
      } catch (error) {
        rmSync(path.join(uploadFolder(store.folder), upload), { force: true });
        throw error;
      }
    },
  }),
  route({
    method: 'DELETE',
    path: '/captures/{id}',
    role: 'operator',
    beside: true,
    summary: 'Take a capture away, with all it told',
    run: ({ store, person, params }) => {
      const found = readCaptures(store.db).find(({ id }) => id === Number(params.id));
      if (!found) throw notFound(`capture ${params.id}`);
      dropCapture(store.db, found.id);
      recordAct(store.db, person.name, 'took a capture away', found.file);
      return {};
    },
  }),
];
