'use client';

import { useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import { useWritten } from '../edits/useWritten';
import type { FileTold } from './useImports';

/** A CSV file on its way in: looked at when it is chosen, then taken. What others wrote in between is told, not written over. */
export function useCsvImport(name: string) {
  const written = useWritten();
  const [file, setFile] = useState<{ name: string; csv: string } | null>(null);
  const [answer, setAnswer] = useState<FileTold | null>(null);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const send = async (given: { name: string; csv: string }, seen: number | null) => {
    setBusy(true);
    setProblem(null);
    try {
      const body = { ...given, preview: seen === null };
      setAnswer(await call<FileTold>(`imports/${name}`, { method: 'POST', body, seen }));
      if (seen !== null) await written();
    } catch (error) {
      setAnswer(null);
      setProblem(error as ApiProblem);
    }
    setBusy(false);
  };
  const choose = async (chosen: File) => {
    const given = { name: chosen.name, csv: await chosen.text() };
    setFile(given);
    await send(given, null);
  };
  return {
    file,
    answer,
    problem,
    busy,
    choose: (chosen: File) => void choose(chosen),
    look: () => void (file && send(file, null)),
    take: () => void (file && answer && send(file, answer.version)),
  };
}
