import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import Database from 'better-sqlite3';
import { programFolder } from './base/database';

const migration = readFileSync(path.join(programFolder(), 'src/store/migrations/0032_approved_places.sql'), 'utf8');

test('credentials of before may be sent where their scopes ask, behind translations, and nowhere else', () => {
  const raw = new Database(':memory:');
  raw.exec('create table credential (id integer primary key, name text, shown text)');
  raw.exec('create table scope (id integer primary key, name text, body text)');
  const keep = raw.prepare('insert into credential (name, shown) values (?, ?)');
  for (const name of ['core', 'hands', 'depots', 'unused']) keep.run(name, JSON.stringify({ user: 'osric' }));
  const save = raw.prepare('insert into scope (name, body) values (?, ?)');
  const north = {
    ranges: ['10.72.4.0/24', '10.72.5.1-40'],
    translations: ['10.72.0.0/16 via 127.72.0.0/16 port 1161 https 1443', '10.73.0.0/16=127.73.0.0/16:1162'],
    credentials: ['core', 'depots'],
    writeCredentials: ['hands'],
    port: 161,
  };
  save.run('north', JSON.stringify(north));
  save.run('south', JSON.stringify({ ranges: ['192.0.2.9'], credentials: ['depots'], port: 1610, neighbourSteps: 2 }));
  raw.exec(migration);
  const told = Object.fromEntries(
    (raw.prepare('select name, shown from credential').all() as { name: string; shown: string }[]).map(
      ({ name, shown }) => {
        const { user, approved } = JSON.parse(shown) as {
          user: string;
          approved: { prefixes: string[]; ports: number[] };
        };
        expect(user).toBe('osric');
        return [name, [approved.prefixes.sort().join(' '), approved.ports.sort((x, y) => x - y).join(' ')]];
      },
    ),
  );
  const ofNorth = '10.72.4.0/24 10.72.5.1-40 127.72.0.0/16 127.73.0.0/16';
  expect(told).toEqual({
    core: [ofNorth, '161 443 1161 1162 1443'],
    hands: [ofNorth, '161 443 1161 1162 1443'],
    depots: [
      '10.0.0.0/8 10.72.4.0/24 10.72.5.1-40 127.72.0.0/16 127.73.0.0/16 172.16.0.0/12 192.0.2.9 192.168.0.0/16',
      '161 443 1161 1162 1443 1610',
    ],
    unused: ['', ''],
  });
});
