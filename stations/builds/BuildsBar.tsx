'use client';

import { ReadingBar } from '@/ui/ReadingBar';
import { jobHrefOfText, needHref, needOfText } from './need';

/** The reading bar of the builds: `4s3p` matches a pack, `7s 10A 40min` asks which shapes do a job. */
export function BuildsBar({ model }: { model: string }) {
  return (
    <ReadingBar
      label="A pack, such as 4s3p"
      placeholder="4s3p, or 7s 10A 40min 3.0V"
      understand={(text) => {
        if (text.trim() === '') return { kind: 'nothing' };
        const job = jobHrefOfText(text, model);
        if (job) return { kind: 'go', said: `shapes of ${model} for that job`, href: job };
        const need = needOfText(text);
        if (!need)
          return { kind: 'wrong', said: 'Expected a shape, such as 4s3p, or a job, such as 7s 10A 40min 3.0V.' };
        return {
          kind: 'go',
          said:
            `match ${need.series} in series, ${need.parallel} in parallel of ` +
            `${model}${need.without.length > 0 ? ` without ${need.without.join(', ')}` : ''}`,
          href: needHref({ ...need, model }),
        };
      }}
    />
  );
}
