'use client';

import { useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from '../components/Link';
import { TextButton } from '../components/TextButton';
import { useFileChoice } from '../components/useFileChoice';
import { call, type ApiProblem } from '../lib/api';
import { useView } from '../lib/useView';

interface Job {
  state: string;
  error: string | null;
  result: { state: string; packets: number; conversations: number; notes: string[] } | null;
}
type Told = { words: string; isWrong?: boolean; isDone?: boolean };

const pollMs = 400;

/** Takes a capture of packets in: who talked to whom, for a host or mirror port that nobody asks. */
export function FromCapture() {
  const view = useView();
  const client = useQueryClient();
  const [told, setTold] = useState<Told | null>(null);
  const take = async (file: File) => {
    setTold({ words: `sending ${file.name}…` });
    try {
      const { jobId } = await call<{ jobId: number }>(`captures?name=${encodeURIComponent(file.name)}`, {
        method: 'POST',
        // browsers know captures by many types, or by none
        body: file.slice(0, file.size, 'application/octet-stream'),
      });
      setTold({ words: `reading ${file.name}…` });
      for (;;) {
        const { state, error, result } = await call<Job>(`jobs/${jobId}`);
        if (result) {
          setTold({ words: wordsOf(file.name, result), isDone: true });
          await client.invalidateQueries();
          return;
        }
        if (state === 'failed' || state === 'cancelled') {
          setTold({ words: error ?? `${file.name} was not taken in`, isWrong: true });
          return;
        }
        await new Promise((resolve) => setTimeout(resolve, pollMs));
      }
    } catch (error) {
      setTold({ words: (error as ApiProblem).words, isWrong: true });
    }
  };
  const { input, ask } = useFileChoice({
    accept: '.pcap,.pcapng,.cap,application/vnd.tcpdump.pcap',
    label: 'capture of packets',
    onFile: (file) => void take(file),
  });
  return (
    <div>
      <p className="small quiet">
        Who talks to whom, from a host or a mirror port: take in{' '}
        <TextButton onClick={ask}>a capture of packets</TextButton> (pcap or pcapng).
      </p>
      {input}
      {told && (
        <p className={told.isWrong ? 'small bad' : 'small'} role={told.isWrong ? 'alert' : 'status'}>
          {told.words}
          {told.isDone && (
            <>
              {' '}
              <Link href={view.href('/estate', { of: 'conversations', sel: null })}>Look at the conversations</Link>
            </>
          )}
        </p>
      )}
    </div>
  );
}

function wordsOf(name: string, { state, packets, conversations, notes }: NonNullable<Job['result']>): string {
  const count = (number: number, one: string) => `${number.toLocaleString('en')} ${one}${number === 1 ? '' : 's'}`;
  return [
    state === 'taken in'
      ? `${name}: ${count(packets, 'packet')}, ${count(conversations, 'conversation')}.`
      : `${name} was taken in before: nothing is counted twice.`,
    ...notes.map((note) => `${note}.`),
  ].join(' ');
}
