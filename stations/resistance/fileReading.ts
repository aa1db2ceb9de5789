import 'server-only';
import { notMeasuredText } from '@/words/rounds';
import { type OpenRound, openRoundById } from '@/workshop/rounds';
import { contextOf } from './roundContext';
import { filingDatabase } from '@/records/database';
import { readByOthers, readingsOfRounds, resistancesBySubject } from '@/records/readings';
import { answering, ask, done, refuse } from '@/stations/answer';
import { readAt, storing } from '@/stations/filing';
import { judgePackResistances, packFigure, type PackFigure, timeOfReading } from '@/core/judging/judgePack';
import { cellOfCode } from '@/core/judging/shelf';
import { entryLine, type Filed } from '@/ui/entryLine';
import { now } from '@/workshop/clock';
import { after } from 'next/server';
import { packInRound, whyPackNotMeasured } from './packsOfRound';
import { type RoundCell, understandReading } from './roundLine';
import {
  roundPopulation,
  firstOfWeld,
  judgeReadings,
  type RoundFigure,
  roundFigure,
  whyNotMeasured,
} from '@/core/judging/judgeRound';

/** `freed` is the code of the cell whose reading was corrected by this one. */
export type FiledReading = Filed & { figure?: RoundFigure | PackFigure | null; freed?: string | null };

/** What may be measured in a round, by its code. */
interface Measured {
  subject(code: string): (Omit<RoundCell, 'times'> & { id: number }) | null;
  /** Why one of that code is not measured; null where there is none. */
  whyNot(code: string): string | null;
}

function ofBatch({ workshop }: OpenRound, batchCode: string): Measured {
  const inBatch = (code: string) => {
    const cell = cellOfCode(workshop, code);
    return cell?.batchCode === batchCode ? cell : null;
  };
  return {
    subject: (named) => {
      const one = inBatch(named);
      const cell = one && inBatch(firstOfWeld(one));
      return cell && whyNotMeasured(cell) === null ? { ...cell, series: 1 } : null;
    },
    whyNot: (code) => {
      const cell = inBatch(code);
      const why = cell && whyNotMeasured(cell);
      return why && notMeasuredText(code, why);
    },
  };
}

function ofPacks({ packs, round }: OpenRound): Measured {
  const named = (code: string) => packs.find((pack) => pack.code === code) ?? null;
  return {
    subject: (code) => {
      const pack = named(code);
      return pack && whyPackNotMeasured(pack) === null ? { ...packInRound(pack, round), id: pack.id } : null;
    },
    whyNot: (code) => {
      const pack = named(code);
      return pack && whyPackNotMeasured(pack);
    },
  };
}

/** A pack with what was just filed. */
async function figureOfPack(
  { packs, workshop, round }: OpenRound,
  code: string,
  takenAt: Date | undefined,
): Promise<PackFigure | null> {
  const pack = packs.find((one) => one.code === code);
  if (!pack) return null;
  const resistances = (await resistancesBySubject(filingDatabase(), [pack.id])).get(pack.id) ?? [];
  const resistanceTimes = judgePackResistances({ ...pack, resistances }, workshop.rules.limits, workshop);
  const time = timeOfReading({ resistanceTimes }, { roundId: round.id, takenAt });
  return time ? packFigure(pack, time) : null;
}

const isOutlierFigure = (figure: RoundFigure | PackFigure): boolean =>
  'groups' in figure ? figure.says.some(({ urgent }) => urgent) : figure.odd || figure.repeats?.differ === true;

/** How many lines of a round are about that one. */
const timesRead = (readings: OpenRound['readings'], code: string): number =>
  new Set(readings.flatMap(({ row }) => (row.code === code ? row.entry : []))).size;

/** No reading of a cell that still lives is older. */
const firstDay = new Date('1990-01-01');

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
    const { entry, text, confirmed, current, seen, replaces, waitedS } = entryLine.parse(body);
    if (!open) return refuse('This round is not there any more.');
    const { round, workshop, readings } = open;
    const others = readings.filter(({ row }) => row.entry !== entry && row.entry !== replaces);
    const of = round.batchCode === null ? ofPacks(open) : ofBatch(open, round.batchCode);
    const byCode = (named: string) => {
      const one = of.subject(named);
      return one && { ...one, times: timesRead(others, one.code) };
    };
    const { whyNot } = of;
    const line = understandReading(text, contextOf(open), current === null ? null : byCode(current), byCode, whyNot);
    const stored = () => readingsOfRounds(filingDatabase(), [round.id], { entry });
    if (line.kind === 'nothing') await stored();
    if (line.kind !== 'reading') return refuse(line.kind === 'wrong' ? line.said : 'Nothing to file.');
    if (line.asks && !confirmed) return ask(line.asks);
    const takenAt = line.reading.day ? new Date(`${line.reading.day}T12:00:00Z`) : undefined;
    if (takenAt && (takenAt > now() || takenAt < firstDay))
      return refuse(`${line.reading.day} cannot be the day of this reading.`);
    const subject = byCode(line.code);
    if (!subject) return refuse(`There is no ${line.code}.`);
    const takenWith = round.instrumentId === null ? null : { instrumentId: round.instrumentId, channel: 1 };
    const kept = await storing(
      {
        entry,
        subjectIds: [subject.id, ...subject.weldedTo.flatMap((code) => cellOfCode(workshop, code)?.id ?? [])],
        occasionId: round.occasionId,
        confirmed,
        takenAt: takenAt ?? readAt({ waitedS }),
        takenWith,
        temperatureC: line.reading.temperatureC,
        bodies: line.reading.bodies,
        replaces,
      },
      {
        // Counted where two that come at the same instant come one after the other.
        before: async (db) => {
          if (seen === null || confirmed) return;
          if ((await readByOthers(db, round.occasionId, subject.id, { entry, replaces })) > seen)
            throw new ReadMeanwhile();
        },
        pool: filingDatabase(),
      },
    ).catch((error: unknown) => {
      if (!(error instanceof ReadMeanwhile)) throw error;
      return ask({
        text: `${line.code} was measured from another screen just now. Is this a repeat?`,
        suggests: null,
      });
    });
    if (!kept.ok) return kept;
    const all = [...judgeReadings(await stored(), open.subjectOf, workshop), ...others];
    // What the filing changed is judged while the next figure is typed, not when it is filed.
    after(() => openRoundById(round.id));
    const freed = readings.find(({ row }) => row.entry === replaces)?.row.code ?? null;
    return done({
      said: line.said,
      freed,
      figure:
        round.batchCode === null
          ? await figureOfPack(open, line.code, takenAt)
          : roundFigure(line.code, all, roundPopulation(all, workshop.rules.limits.oddBeyond)),
    });
  });
  if (!answer.ok) return answer;
  const { said, figure, freed } = answer.value;
  return {
    ok: true,
    said: `Filed ${said}.`,
    odd: figure !== null && figure !== undefined && isOutlierFigure(figure),
    figure,
    freed,
  };
}
