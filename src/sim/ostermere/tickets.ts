import type { Ticket } from '../tickets/ticketStand';

const hourMs = 3_600_000;
const dayMs = 24 * hourMs;

/** What stands in the tickets of Ostermere at a moment: a change on Saturday night, another that is overdue, an outage that goes on. */
export function sampleTickets(now: number): Ticket[] {
  const at = (ms: number) => new Date(Math.floor(ms / hourMs) * hourMs).toISOString();
  const saturday = now + ((6 - new Date(now).getUTCDay() + 7) % 7) * dayMs;
  const night = Math.floor(saturday / dayMs) * dayMs + 22 * hourMs;
  return [
    {
      number: 'CH-4471',
      type: 'change',
      summary: 'Renew the supply of the second access switch',
      assignee: 'network team',
      starts: at(night),
      ends: at(night + 3 * hourMs),
      affects: ['sgh-acc-2'],
      text: 'The switch is off for about ten minutes.',
    },
    {
      number: 'CH-4480',
      type: 'change',
      summary: 'New release on the ring switch of Lantern Quay',
      assignee: 'network team',
      starts: at(now + 5 * dayMs),
      ends: at(now + 5 * dayMs + hourMs),
      affects: ['lqy-ring'],
      text: 'Restarts once.',
    },
    {
      number: 'IN-9032',
      type: 'outage',
      summary: 'Platform switch at Old Foundry does not answer',
      assignee: 'field service',
      starts: at(now - 6 * hourMs),
      ends: null,
      affects: ['ofy-plat'],
      text: 'Somebody is on the way.',
    },
  ];
}
