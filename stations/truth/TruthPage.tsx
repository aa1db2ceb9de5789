import { marked } from 'marked';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { GoBar } from '../frame/GoBar';

/**
 * How often the uncertainties hold the truth: the table that ships with the application, made by `npm run coverage`.
 */
export async function TruthPage() {
  const text = await readFile(join(process.cwd(), 'docs', 'truth.md'), 'utf8');
  // The file is the application's own; wide tables scroll by themselves.
  const html = (await marked.parse(text))
    .replaceAll('<table>', '<div class="table-scroll" tabindex="0"><table class="table">')
    .replaceAll('</table>', '</table></div>')
    .replaceAll(' %</td>', '&nbsp;%</td>');
  return (
    <>
      <section className="sheet written" dangerouslySetInnerHTML={{ __html: html }} />
      <GoBar placeholder="S1-014 opens a cell" />
    </>
  );
}
