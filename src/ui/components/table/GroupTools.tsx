import { TextButton } from '../TextButton';

/** What a table is grouped by, and all groups open or closed with one press. */
export function GroupTools({
  levels,
  onOpenAll,
  onCloseAll,
}: {
  levels: string[];
  onOpenAll: () => void;
  onCloseAll: () => void;
}) {
  return (
    <p className="small quiet groupline">
      by {levels.map((label) => label.toLowerCase()).join(' › ')}
      <TextButton onClick={onOpenAll}>Open all</TextButton>
      <TextButton onClick={onCloseAll}>Close all</TextButton>
    </p>
  );
}
