import 'server-only';
import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import { modelName } from '@/core/judging/models';
import type { Quantity } from '@/core/quantity/quantity';
import { intakeReasonText } from '@/words/intake';
import { packSayingText, resistanceSayingText } from '@/words/packs';
import { judgedPacks, judgedWorkshop } from '@/workshop/judged';
import type { z } from 'zod';
import { type subjectOf, subjectsQuery, type subjectsResponse } from './schemas';

type Subject = z.infer<typeof subjectOf>;

const ofQuantity = (quantity: Quantity | null): { value: number; standardUncertainty: number } | null =>
  quantity && { value: quantity.value, standardUncertainty: quantity.u };

const graded = ({
  standing,
  duty,
  capacity,
  capacityIsAtLeast,
  capacityBy,
  held,
  resistance,
}: JudgedCell | JudgedPack) => ({
  standing,
  capacityAh: ofQuantity(capacity),
  capacityIsAtLeast,
  capacityBy,
  hold: held && { verdict: held.verdict, group: held.position, driftVPerDay: ofQuantity(held.drift) },
  health: ofQuantity(duty.health),
  resistanceOhm: ofQuantity(resistance),
});

const ofCell = (cell: JudgedCell): Subject => ({
  code: cell.code,
  kind: 'cell',
  chemistry: cell.chemistry,
  series: 1,
  ratedCapacityAh: cell.ratedCapacityAh,
  intake: cell.intake.class,
  ...graded(cell),
  batch: cell.batchCode,
  model: modelName(cell),
  restVoltageV: cell.voltageV,
  weldedTo: cell.weldedTo,
  pack: cell.pack,
  says: cell.intake.reasons.map(intakeReasonText),
});

function ofPack(pack: JudgedPack): Subject {
  const newest = pack.amongGroups;
  return {
    code: pack.code,
    kind: 'pack',
    chemistry: pack.chemistry,
    series: pack.series,
    ratedCapacityAh: pack.ratedCapacityAh,
    intake: pack.intake.class,
    ...graded(pack),
    name: pack.name,
    parallel: pack.parallel,
    cycles: pack.cycles,
    twins: pack.twins,
    build: pack.buildId,
    takenApartAt: pack.apart?.at.toISOString() ?? null,
    wantsAHand: pack.isUrgent,
    groups: Array.from({ length: pack.series }, (_, i) => {
      const resistance = newest?.groups.find(({ position }) => position === i + 1);
      return {
        position: i + 1,
        voltageV: pack.judgement?.groups[i]?.voltageV ?? null,
        resistanceOhm: ofQuantity(resistance?.resistance ?? null),
        resistanceIs: resistance?.level ?? null,
        leftAh: ofQuantity(pack.run?.groups?.[i]?.leftAh ?? null),
      };
    }),
    says: [
      ...pack.intake.reasons.map(intakeReasonText),
      ...(pack.judgement?.says.map(packSayingText) ?? []),
      ...(newest?.says.map(resistanceSayingText) ?? []),
    ],
  };
}

/** Cells and packs by their codes, with what is known and said of each. */
export async function subjects(request: Request): Promise<z.infer<typeof subjectsResponse>> {
  const { kind, code, batch, after, limit } = subjectsQuery.parse(
    Object.fromEntries(new URL(request.url).searchParams),
  );
  const workshop = await judgedWorkshop();
  const packs = kind === 'cell' || batch !== undefined ? [] : await judgedPacks(workshop);
  const all: (JudgedCell | JudgedPack)[] = [...(kind === 'pack' ? [] : workshop.cells), ...packs];
  const found = all
    .filter(
      (one) =>
        (code === undefined || one.code === code) &&
        (after === undefined || one.code > after) &&
        (batch === undefined || ('batchCode' in one && one.batchCode === batch)),
    )
    .sort((one, other) => (one.code < other.code ? -1 : 1));
  const shown = found.slice(0, limit);
  return {
    subjects: shown.map((one) => ('batchCode' in one ? ofCell(one) : ofPack(one))),
    after: found.length > limit ? (shown.at(-1)?.code ?? null) : null,
    stillJudging: workshop.judging !== null,
  };
}
