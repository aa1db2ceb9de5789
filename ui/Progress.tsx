import ProgressBar from 'react-bootstrap/ProgressBar';

/** How much of something is done, from 0 to 1, with a name that a screen reader tells. */
export const Progress = ({ share, label }: { share: number; label: string }) => (
  <div className="progress">
    <ProgressBar isChild now={share * 100} aria-label={label} />
  </div>
);
