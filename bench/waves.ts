import { fates, Rehearsals } from '../src/core/dependency/rehearse';
import { farEndsFirst, leastMinutes, wavesInSteps, type WaveTask } from '../src/core/firmware/waves/plan';
import { atOnce } from '../src/core/steps';
import { campus, graphOf } from './rehearsal';

const hour = 3_600_000;
const minute = 60_000;

/**
 * Bench of waves over campuses: how long the plan takes, whether any wave takes away what none of its devices takes away by itself (each wave rehearsed anew, things counted), and how its time stands to the least there can be.
 */
export function benchWaves(things = 5000, nights = 50): Record<string, unknown> {
  return Object.fromEntries([7, 11, 23].map((seed) => [`campus ${seed}`, one(things, nights, seed)]));
}

function one(size: number, nights: number, seed: number): Record<string, unknown> {
  const made = campus(size, seed);
  const rehearsals = new Rehearsals(graphOf(made));
  const tasks = Array.from({ length: made.deviceCount }, (_, device): WaveTask => ({
    ...{ device, name: `t${device}`, site: `s${Math.floor(device / 50)}`, minutes: 20 },
    ...{ target: 't', stage: 0, waitMinutes: 0, isSpare: false },
  }));
  const windows = Array.from({ length: nights }, (_, nth) => ({
    start: nth * 24 * hour,
    end: nth * 24 * hour + 6 * hour,
  }));
  const rules = { crew: 40, perSite: 10 };
  const before = farEndsFirst(tasks, rehearsals);
  const began = performance.now();
  const plan = atOnce(wavesInSteps(tasks, windows, rules, before, rehearsals));
  const took = performance.now() - began;
  let together = 0;
  let stopped = 0;
  let byThemselves = 0;
  const isLost = (fate: number | undefined) => fates[fate ?? 0] === 'lost';
  for (const { placed } of plan.waves) {
    const devices = placed.map(({ task }) => task);
    const alone = new Set(
      devices.flatMap((device) => {
        const { fate } = rehearsals.rehearse({ things: [device] });
        return made.things.flatMap((_, thing) => (isLost(fate[thing]) ? [thing] : []));
      }),
    );
    const { fate } = rehearsals.rehearse({ things: devices });
    made.things.forEach(({ kind }, thing) => {
      if (!isLost(fate[thing])) return;
      if (alone.has(thing)) byThemselves++;
      else together++;
      if (kind === 'application') stopped++;
    });
  }
  const placed = new Set(plan.waves.flatMap((wave) => wave.placed.map(({ task }) => task)));
  const own = tasks.filter((_, task) => placed.has(task));
  const least = leastMinutes(own, rules, farEndsFirst(own, rehearsals));
  const spent = plan.waves.reduce((sum, { start, end }) => sum + (end - start) / minute, 0);
  return {
    devices: tasks.length,
    things: made.things.length,
    windows: windows.length,
    'planned in, s': Math.round(took) / 1000,
    rehearsed: plan.rehearsed,
    waves: plan.waves.length,
    placed: placed.size,
    'unplaced, since they stop an application': plan.unplaced.filter(({ why }) => why.includes('stops')).length,
    'unplaced otherwise': plan.unplaced.filter(({ why }) => !why.includes('stops')).length,
    'lost together': together,
    'applications stopped': stopped,
    'lost by one device alone, whatever the wave': byThemselves,
    'minutes of work': spent,
    'least there can be': Math.round(least),
    'times the least': Math.round((100 * spent) / least) / 100,
  };
}
