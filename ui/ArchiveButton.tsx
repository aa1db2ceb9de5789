import { ActButton } from './ActButton';

/** Puts something away that is not used any more, or takes it out again; what was done with it stays. */
export function ArchiveButton({ name, away, act }: { name: string; away: boolean; act(): Promise<void> }) {
  const label = away ? 'Put away' : 'Take out again';
  return (
    <ActButton label={`${label} ${name}`} act={act}>
      {label}
    </ActButton>
  );
}
