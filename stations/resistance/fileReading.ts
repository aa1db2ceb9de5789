import 'server-only';
import { database } from '@/records/database';
import { fileEntry, readingsOfRounds } from '@/records/readings';
import { answering, ask, done, refuse } from '@/stations/answer';
import { Refusal } from '@/stations/api/respond';
import { cellOfCode } from '@/stations/workshop';
import { entryLine, type Filed } from '@/ui/entryLine';
import { after } from 'next/server';
import { z } from 'zod';
import { understandReading } from './entry';
import { contextOf, crowdOfRound, judgeReadings, openRoundById, type RoundFigure, roundFigure, whyNotMeasured } from './round';

export type FiledReading = Filed & { figure?: RoundFigure | null };

const readingRequest = entryLine.extend({
  /** How many readings of that cell the screen knew of; null where it cannot tell. */
  seen: z.int().nullable(),
});
export type ReadingRequest = z.infer<typeof readingRequest>;

/** Asked as a round's screen opens: whatever a server just started has to load for the first reading is loaded before it comes. */
export async function readyForReadings(roundId: number): Promise<{ ready: boolean }> {
  return { ready: (await openRoundById(roundId)) !== null };
}

/**
 * Files one reading of the round and answers with its figure; the screen asks for the rest of itself afterwards. It has an
 * address of its own, since server actions wait for one another and for pages under way.
 */
export async function fileReading(roundId: number, request: Request): Promise<FiledReading> {
  // No foreign web page may send JSON unasked.
  if (!request.headers.get('content-type')?.startsWith('application/json')) throw new Refusal(415, 'not-json', 'Send the reading with content-type application/json.');
  const answer = await answering(async () => {
    const { entry, text, confirmed, current, seen } = readingRequest.parse(await request.json());
    const open = await openRoundById(roundId);
    if (!open) return refuse('This round is not there any more.');
    const { round, workshop, readings } = open;
    const inBatch = (code: string) => {
      const cell = cellOfCode(workshop, code);
      return cell?.batchCode === round.batchCode ? cell : null;
    };
    const byCode = (code: string) => {
      const cell = inBatch(code);
      return cell && whyNotMeasured(cell) === null ? cell : null;
    };
    const whyNot = (code: string) => {
      const cell = inBatch(code);
      return cell && whyNotMeasured(cell);
    };
    const line = understandReading(text, contextOf(open), current === null ? null : byCode(current), byCode, whyNot);
    if (line.kind !== 'reading') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const cell = byCode(line.code);
    if (!cell) return refuse(`There is no cell ${line.code}.`);
    const already = readings.filter(({ row }) => row.code === line.code && row.entry !== entry);
    if (seen !== null && already.length > seen && !confirmed) return ask(`${line.code} was read meanwhile from another screen. Enter again files this as a second press.`);
    const takenWith = round.instrumentId === null ? null : { instrumentId: round.instrumentId, channel: 1 };
    await fileEntry(database(), { entry, cellId: cell.id, confirmed, takenWith, readings: [{ ...line.reading, roundId: round.id }] });
    const filed = judgeReadings(await readingsOfRounds(database(), [round.id], { entry }), workshop);
    const now = [...filed, ...readings.filter(({ row }) => row.entry !== entry)];
    // What the filing changed is judged while the next figure is typed, not when it is filed.
    after(() => openRoundById(round.id));
    return done({ said: line.said, figure: roundFigure(line.code, now, crowdOfRound(now, workshop.rules.limits.oddBeyond)) });
  });
  if (!answer.ok) return answer;
  const { said, figure } = answer.value;
  return { ok: true, said: `Filed ${said}.`, odd: figure?.odd === true || figure?.repeats?.differ === true, figure };
}
