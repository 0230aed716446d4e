import { expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore } from '../../store/base/database';
import { workEdits } from '../../store/edits/works';
import { writeEdit } from '../../store/edits/log';
import { worksByDevice } from './worksByDevice';

test('works stand at devices by their numbers, and by names that one has alone; what is over stands nowhere', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'bolide-works-'));
  const store = openStore(folder);
  try {
    const work = (title: string, until: string | null, ...things: string[]) =>
      writeEdit(store.db, workEdits, {
        who: 'Osric',
        act: 'wrote down a work',
        words: title,
        changes: [
          {
            key: null,
            before: null,
            after: {
              kind: 'planned work',
              title,
              who: '',
              from: '2026-11-20T22:00:00Z',
              until,
              things,
              note: '',
              source: '',
              number: '',
            },
          },
        ],
      });
    work('by number', '2026-11-21T22:00:00Z', 'device:12', 'device:99', 'site:RPW');
    work('by name', null, 'RPW-ring', 'rpw-ring', 'twin');
    work('over', '2026-11-20T23:00:00Z', 'device:12');
    const devices = [
      { id: 12, name: 'lqy-ring' },
      { id: 13, name: 'rpw-ring' },
      { id: 14, name: 'twin' },
      { id: 15, name: 'Twin' },
    ];
    expect(worksByDevice(store, devices, '2026-11-21T08:00:00Z')).toEqual(
      new Map([
        [12, ['planned work, now: by number']],
        [13, ['planned work, now: by name']],
      ]),
    );
    expect(worksByDevice(store, devices, '2026-11-19T08:00:00Z').get(13)).toEqual(['planned work, planned: by name']);
  } finally {
    store.close();
    rmSync(folder, { recursive: true, force: true });
  }
});
