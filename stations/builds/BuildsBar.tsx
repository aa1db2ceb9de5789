'use client';

import { ReadingBar } from '@/ui/ReadingBar';
import { packLine } from './need';

/** The reading bar of the builds: `4s3p` matches a pack, `7s 10A 40min` asks which shapes do a job. */
export function BuildsBar({ model }: { model: string }) {
  return (
    <ReadingBar
      label="A pack, such as 4s3p"
      placeholder="4s3p, or 7s 10A 40min 3.0V"
      understand={(text) => {
        if (text.trim() === '') return { kind: 'nothing' };
        const wrong = 'Expected a shape, such as 4s3p, or a job, such as 7s 10A 40min 3.0V.';
        return packLine(text, model) ?? { kind: 'wrong', said: wrong };
      }}
    />
  );
}
