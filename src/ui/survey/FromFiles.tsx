'use client';

import { useRef, useState } from 'react';
import { call, type ApiProblem } from '../lib/api';

/** Surveys a zip archive of walks or Redfish trees, for equipment that cannot be reached from here. */
export function FromFiles({ onStarted }: { onStarted: (jobId: number) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const format = useRef<'walks' | 'trees'>('walks');
  const [words, setWords] = useState('');
  const upload = async (file: File) => {
    setWords(`sending ${file.name}…`);
    try {
      const { jobId } = await call<{ jobId: number }>(
        `harvests?format=${format.current}&name=${encodeURIComponent(file.name.replace(/\.zip$/i, ''))}`,
        { method: 'POST', body: file },
      );
      setWords('');
      onStarted(jobId);
    } catch (error) {
      setWords((error as ApiProblem).words);
    }
  };
  const choose = (wanted: 'walks' | 'trees') => {
    format.current = wanted;
    input.current?.click();
  };
  return (
    <div style={{ marginTop: 10 }}>
      <p className="small quiet">
        Equipment that cannot be reached from here: survey a zip of{' '}
        <button type="button" className="textlink" onClick={() => choose('walks')}>
          numeric walks
        </button>{' '}
        (a file an address) or of{' '}
        <button type="button" className="textlink" onClick={() => choose('trees')}>
          Redfish trees
        </button>{' '}
        (a folder an address).
      </p>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        hidden
        aria-label="zip archive"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) void upload(file);
          event.target.value = '';
        }}
      />
      {words && (
        <p className="small" role="status">
          {words}
        </p>
      )}
    </div>
  );
}
