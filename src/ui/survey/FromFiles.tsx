'use client';

import { useRef, useState } from 'react';
import { call, type ApiProblem } from '../lib/api';
import { TextButton } from '../components/TextButton';
import { useFileChoice } from '../components/useFileChoice';

/** Surveys a zip archive of walks or Redfish trees, for equipment that cannot be reached from here. */
export function FromFiles({ onStarted }: { onStarted: (jobId: number) => void }) {
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
  const { input, ask } = useFileChoice({
    accept: '.zip,application/zip',
    label: 'zip archive',
    onFile: (file) => void upload(file),
  });
  const choose = (wanted: 'walks' | 'trees') => {
    format.current = wanted;
    ask();
  };
  return (
    <div style={{ marginTop: 10 }}>
      <p className="small quiet">
        Equipment that cannot be reached from here: survey a zip of{' '}
        <TextButton onClick={() => choose('walks')}>numeric walks</TextButton> (a file an address) or of{' '}
        <TextButton onClick={() => choose('trees')}>Redfish trees</TextButton> (a folder an address).
      </p>
      {input}
      {words && (
        <p className="small" role="status">
          {words}
        </p>
      )}
    </div>
  );
}
