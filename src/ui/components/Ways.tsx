'use client';

import { TextButton } from './TextButton';

/** One of several ways to do what a dialog is for. */
export function Ways<Key extends string>({
  label,
  way,
  ways,
  onWay,
}: {
  label: string;
  way: Key;
  ways: readonly { key: Key; words: string }[];
  onWay: (way: Key) => void;
}) {
  return (
    <nav className="subviews" aria-label={label} style={{ padding: '0 0 8px', marginBottom: 8 }}>
      {ways.map(({ key, words }) => (
        <TextButton key={key} aria-current={key === way ? 'page' : undefined} onClick={() => onWay(key)}>
          {words}
        </TextButton>
      ))}
    </nav>
  );
}
