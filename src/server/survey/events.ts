import type { Store } from '../../store/base/database';
import { notFound } from '../access/problem';
import { stillMay } from '../access/session';
import { surveyProgress, visitsAfter } from './progress';

const everyMs = 250;
/** how often it is looked whether whoever listens still may */
const mayEveryMs = 5000;

/** Server-sent events: `visits` with the rows changed since the last event, `progress` with the whole. Ends when the survey does. */
export function surveyEvents(store: Store, id: number, request: Request): Response {
  if (!surveyProgress(store.db, id)) throw notFound(`survey ${id}`);
  const encoder = new TextEncoder();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let open = true;
  const stop = () => {
    open = false;
    clearTimeout(timer);
  };
  request.signal.addEventListener('abort', stop);
  const resumeFrom = Number(request.headers.get('last-event-id') ?? 0) || 0;
  const stream = new ReadableStream({
    start(controller) {
      let seq = resumeFrom;
      let askedAt = Date.now();
      const ends = () => {
        if (!open) return;
        stop();
        controller.close();
      };
      const send = (event: string, payload: unknown) =>
        controller.enqueue(encoder.encode(`id: ${seq}\nevent: ${event}\ndata: ${JSON.stringify(payload)}\n\n`));
      const tick = () => {
        if (!open) return;
        const visits = visitsAfter(store.db, id, seq);
        const last = visits.at(-1);
        if (last) {
          seq = last.seq;
          send('visits', visits);
        }
        const progress = surveyProgress(store.db, id);
        send('progress', progress);
        if (!progress || progress.state !== 'running') return ends();
        if (Date.now() - askedAt >= mayEveryMs) {
          askedAt = Date.now();
          void stillMay(request).then((may) => !may && ends());
        }
        timer = setTimeout(tick, everyMs);
      };
      tick();
    },
    cancel: stop,
  });
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
  });
}
