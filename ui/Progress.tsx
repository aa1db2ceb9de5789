import ProgressBar from 'react-bootstrap/ProgressBar';

/** How much of something is done, from 0 to 1, with a name for screen readers. */
export const Progress = ({ share: fraction, label }: { share: number; label: string }) => (
  <div className="progress">
    <ProgressBar isChild now={fraction * 100} aria-label={label} />
  </div>
);
