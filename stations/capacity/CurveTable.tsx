'use client';

import {
  csvHeading,
  csvLines,
  loggedIn,
  namedColumns,
  type SampleColumns,
  samplesIn,
} from '@/core/capacity/sampleColumns';
import { formatDuration } from '@/core/quantity/format';
import Button from 'react-bootstrap/Button';

/** Rows of the table; the CSV has every point that is shown. */
const rowsShown = 60;

/** What a curve shows, in figures, and as a file. */
export function CurveTable({ id, columns }: { id: number; columns: SampleColumns }) {
  const samples = samplesIn(columns);
  const every = Math.max(1, Math.floor(samples.length / rowsShown));
  const save = () => {
    const named = namedColumns(loggedIn(columns));
    const text = csvHeading(named) + csvLines(named, samples);
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([text], { type: 'text/csv' }));
    link.download = `run-${id}-shown.csv`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <>
      <Button variant="quiet" onClick={save}>
        These {samples.length} points as CSV
      </Button>
      <div style={{ maxHeight: 400, overflow: 'auto' }} tabIndex={0}>
        <table className="table">
          <thead>
            <tr>
              <th className="num">Time</th>
              <th className="num">V</th>
              {columns.groupsV?.map((_, i) => (
                <th key={i} className="num">
                  {i + 1}, V
                </th>
              ))}
              <th className="num">A</th>
              <th className="num">°C</th>
            </tr>
          </thead>
          <tbody>
            {samples
              .filter((_, i) => i % every === 0)
              .map((sample) => (
                <tr key={sample.timeS}>
                  <td className="num">{formatDuration(sample.timeS)}</td>
                  <td className="num">{sample.voltageV.toFixed(3)}</td>
                  {sample.groupsV?.map((v, i) => (
                    <td key={i} className="num">
                      {v.toFixed(3)}
                    </td>
                  ))}
                  <td className="num">{sample.currentA?.toFixed(3) ?? '–'}</td>
                  <td className="num">{sample.temperatureC?.toFixed(1) ?? '–'}</td>
                </tr>
              ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
