'use client';

import { findingName } from '@/words/intake';
import { findingsOn, type InspectionFinding, inspectionFindings } from '@/core/grading/intake';
import { enterLine } from '@/ui/keys';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';

/** What eyes, nose and fingers found, to be tapped; the bar takes the same letters. */
export function InspectionKeys({ code, kind }: { code: string; kind: 'cell' | 'pack' }) {
  const [found, setFound] = useState<InspectionFinding[]>([]);
  const toggle = (finding: InspectionFinding) =>
    setFound((now) => (now.includes(finding) ? now.filter((one) => one !== finding) : [...now, finding]));
  return (
    <div className="d-flex flex-wrap gap-2 mt-3" role="group" aria-label={`Inspection of ${code}`}>
      <Button
        variant={found.length === 0 ? 'ember' : 'plain'}
        onClick={() =>
          enterLine(
            `${code} ${found.length === 0 ? 'ok' : found.map((finding) => inspectionFindings[finding].key).join('')}`,
          )
        }
      >
        {found.length === 0 ? (
          <>
            <kbd>ok</kbd> nothing found
          </>
        ) : (
          `File: ${found.map((finding) => findingName[finding]).join(', ')}`
        )}
      </Button>
      {findingsOn(kind).map((finding) => (
        <Button
          key={finding}
          variant={found.includes(finding) ? 'plain' : 'quiet'}
          aria-pressed={found.includes(finding)}
          onClick={() => toggle(finding)}
        >
          <kbd>{inspectionFindings[finding].key}</kbd> {findingName[finding]}
        </Button>
      ))}
    </div>
  );
}
