import ProgressBar from 'react-bootstrap/ProgressBar';

/** How much of something is done, from 0 to 1, with a name that a screen reader tells. */
export const Progress = ({ share: fraction, label }: { share: number; label: string }) => (
  <div className="progress">
    <ProgressBar isChild now={fraction * 100} aria-label={label} />
  </div>
);
