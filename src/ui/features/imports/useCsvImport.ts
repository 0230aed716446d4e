'use client';

import { useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';

/** A CSV file on its way in: looked at when it is chosen, then taken. @param path where it is sent @param more what goes with it @param written what is to be done once it was taken */
export function useCsvImport<Answer>(path: string, more: object, written: () => Promise<void>) {
  const [file, setFile] = useState<{ name: string; csv: string } | null>(null);
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const send = async (given: { name: string; csv: string }, preview: boolean) => {
    setBusy(true);
    setProblem(null);
    try {
      setAnswer(await call<Answer>(path, { method: 'POST', body: { ...more, ...given, preview } }));
      if (!preview) await written();
    } catch (error) {
      setAnswer(null);
      setProblem(error as ApiProblem);
    }
    setBusy(false);
  };
  const choose = async (chosen: File) => {
    const given = { name: chosen.name, csv: await chosen.text() };
    setFile(given);
    await send(given, true);
  };
  return {
    file,
    answer,
    problem,
    busy,
    choose: (chosen: File) => void choose(chosen),
    take: () => void (file && send(file, false)),
  };
}
