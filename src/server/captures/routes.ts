import { rmSync } from 'node:fs';
import path from 'node:path';
import * as yup from 'yup';
import { recordAct } from '../../store/audit';
import { readFlowState } from '../../store/flowState';
import { queueJob } from '../../store/jobs';
import { endsOfConversation } from '../../core/flow/talk';
import { dropCapture, readCaptures, talkHours } from '../../store/talk';
import { keepUpload, uploadFolder } from '../../store/uploads';
import { notFound } from '../access/problem';
import { text } from '../api/parameters';
import { asFile, megabytes, route } from '../api/route';

const longestName = 100;

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
