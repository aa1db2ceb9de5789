'use client';

import { ReadingBar } from '@/ui/ReadingBar';
import { needHref, needOfText } from './need';

/** The reading bar of the builds: `4s3p` matches a pack. */
export function BuildsBar({ model }: { model: string }) {
  return (
    <ReadingBar
      label="A pack, such as 4s3p"
      placeholder="4s3p, or 4s3p without G1-013"
      understand={(text) => {
        if (text.trim() === '') return { kind: 'nothing' };
        const need = needOfText(text);
        if (!need)
          return { kind: 'wrong', said: 'Expected series and parallel, such as 4s3p, or 4s3p without G1-013.' };
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
