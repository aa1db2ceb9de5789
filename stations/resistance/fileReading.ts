import 'server-only';
import { notMeasuredText } from '@/words/rounds';
import { openRoundById } from '@/workshop/rounds';
import { contextOf } from './roundContext';
import { filingDatabase } from '@/records/database';
import { readByOthers, readingsOfRounds } from '@/records/readings';
import { answering, ask, done, refuse } from '@/stations/answer';
import { storing } from '@/stations/filing';
import { cellOfCode } from '@/core/judging/shelf';
import { entryLine, type Filed } from '@/ui/entryLine';
import { after } from 'next/server';
import { understandReading } from './roundLine';
import {
  crowdOfRound,
  firstOfWeld,
  judgeReadings,
  type RoundFigure,
  roundFigure,
  whyNotMeasured,
} from '@/core/judging/judgeRound';

/** `freed` is the code of the cell whose reading was corrected by this one. */
export type FiledReading = Filed & { figure?: RoundFigure | null; freed?: string | null };

class ReadMeanwhile extends Error {}

/**
 * Files one reading of the round and answers with its figure; the screen asks for the rest of itself afterwards. It has
 * an address of its own, since server actions wait for one another and for pages under way.
 *
 * A screen that opens sends an empty line. It files nothing, but loads whatever a server just started has to load, so
 * that the first reading need not wait for that.
 */
export async function fileReading(roundId: number, sent: Promise<unknown>): Promise<FiledReading> {
  const answer = await answering(async () => {
    const [body, open] = await Promise.all([sent, openRoundById(roundId)]);
    const { entry, text, confirmed, current, seen, replaces } = entryLine.parse(body);
    if (!open) return refuse('This round is not there any more.');
    const { round, workshop, readings } = open;
    const others = readings.filter(({ row }) => row.entry !== entry && row.entry !== replaces);
    const inBatch = (code: string) => {
      const cell = cellOfCode(workshop, code);
      return cell?.batchCode === round.batchCode ? cell : null;
    };
    const byCode = (named: string) => {
      const one = inBatch(named);
      const code = one ? firstOfWeld(one) : named;
      const cell = inBatch(code);
      return cell && whyNotMeasured(cell) === null
        ? { ...cell, times: others.filter(({ row }) => row.code === code).length }
        : null;
    };
    const whyNot = (code: string) => {
      const cell = inBatch(code);
      const why = cell && whyNotMeasured(cell);
      return why && notMeasuredText(code, why);
    };
    const line = understandReading(text, contextOf(open), current === null ? null : byCode(current), byCode, whyNot);
    const stored = () => readingsOfRounds(filingDatabase(), [round.id], { entry });
    if (line.kind === 'nothing') await stored();
    if (line.kind !== 'reading') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const cell = byCode(line.code);
    if (!cell) return refuse(`There is no cell ${line.code}.`);
    const takenWith = round.instrumentId === null ? null : { instrumentId: round.instrumentId, channel: 1 };
    const kept = await storing(
      {
        entry,
        subjectIds: [cell.id, ...cell.weldedTo.flatMap((code) => cellOfCode(workshop, code)?.id ?? [])],
        occasionId: round.occasionId,
        confirmed,
        takenWith,
        temperatureC: line.reading.temperatureC,
        bodies: [line.reading.body],
        replaces,
      },
      {
        // Counted where two that come at the same instant come one after the other.
        before: async (db) => {
          if (seen === null || confirmed) return;
          if ((await readByOthers(db, round.occasionId, cell.id, { entry, replaces })) > seen)
            throw new ReadMeanwhile();
        },
        pool: filingDatabase(),
      },
    ).catch((error: unknown) => {
      if (!(error instanceof ReadMeanwhile)) throw error;
      return ask({
        text: `${line.code} was read meanwhile from another screen: is this a second press?`,
        suggests: null,
      });
    });
    if (!kept.ok) return kept;
    const now = [...judgeReadings(await stored(), workshop), ...others];
    // What the filing changed is judged while the next figure is typed, not when it is filed.
    after(() => openRoundById(round.id));
    const freed = readings.find(({ row }) => row.entry === replaces)?.row.code ?? null;
    return done({
      said: line.said,
      freed,
      figure: roundFigure(line.code, now, crowdOfRound(now, workshop.rules.limits.oddBeyond)),
    });
  });
  if (!answer.ok) return answer;
  const { said, figure, freed } = answer.value;
  return {
    ok: true,
    said: `Filed ${said}.`,
    odd: figure?.odd === true || figure?.repeats?.differ === true,
    figure,
    freed,
  };
}
