import type { Course } from '@/core/firmware/doing/course';
import type { Standing } from '@/core/firmware/doing/standing';
import type { Verdict } from '@/core/firmware/readiness';

/** What is under way is asked for again after so long. */
export const lookAgainMs = 2000;

export interface ToldUpgrade {
  id: number;
  name: string;
  who: string;
  at: string;
  state: 'to be approved' | 'running' | 'paused' | 'stopped' | 'ended';
  reason: string;
  atOnce: number;
  stopAfter: number;
  approvedBy: string | null;
  devices: number;
  done: number;
  failed: number;
  underWay: number;
}

export interface ToldRequest {
  id: number;
  at: string;
  method: string;
  path: string;
  body: unknown;
  answer: string | null;
}

export interface ToldCourse {
  id: number;
  deviceId: number;
  device: string;
  component: string;
  name: string;
  course: Course;
  begunAt: string | null;
  endedAt: string | null;
}

/** All that is kept of it. */
export interface ToldRecord extends ToldCourse {
  before: Standing | null;
  after: Standing | null;
  lost: string[] | null;
  requests: ToldRequest[];
}

export interface Looked {
  looked: {
    deviceId: number;
    device: string;
    component: string;
    name: string;
    from: string;
    to: string;
    verdict: Verdict;
    by: string;
    stays: string;
    lost: string[];
  }[];
  more: number;
  nameToType: string | null;
}

export interface ImageSource {
  reachedAs: string;
  listenOn: string;
  port: number;
  needsApproval: boolean;
}

/** What is there of it, in words: `system`, `BIOS`, `drive in bay 3`. */
export const partWords = ({ component, name }: { component: string; name: string }): string =>
  name === '' || name.toLowerCase() === component.toLowerCase() ? component : `${component} ${name}`;
