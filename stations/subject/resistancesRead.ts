import type { JudgedCell } from '@/core/judging/judgeCell';
import type { JudgedPack } from '@/core/judging/judgePack';
import type { Equipment } from '@/core/judging/equipment';
import { judgeResistance } from '@/core/judging/judgeResistance';
import type { Quantity } from '@/core/quantity/quantity';
import { methods } from '@/core/resistance/methods';
import { database } from '@/records/database';
import { resistancesBySubject } from '@/records/readings';

export interface Read {
  takenAt: Date;
  quantity: Quantity;
  method: string;
}

/** What counts of each protocol, the newest first. Of a round the newest press: an earlier may be a bad contact. */
export async function readByProtocol(cell: JudgedCell, equipment: Equipment): Promise<Map<string, Read[]>> {
  const resistances = (await resistancesBySubject(database(), [cell.id])).get(cell.id) ?? [];
  const byProtocol = new Map<string, Read[]>();
  const rounds = new Set<number>();
  for (const resistance of resistances) {
    if (rounds.has(resistance.roundId)) continue;
    const { result, leftOut } = judgeResistance(resistance, cell, equipment);
    if (leftOut !== null) continue;
    rounds.add(resistance.roundId);
    if (!result) continue;
    const name = equipment.protocols.get(resistance.protocolId)?.name ?? '';
    const read = {
      takenAt: resistance.takenAt,
      quantity: result.resistance,
      method: methods[resistance.method].name,
    };
    byProtocol.set(name, [...(byProtocol.get(name) ?? []), read]);
  }
  return byProtocol;
}

/** The same of a pack: the median of its groups, or where these were not read the whole. */
export function packReadByProtocol(
  { resistanceTimes }: JudgedPack,
  { protocols }: Equipment,
): Map<string, Pick<Read, 'takenAt' | 'quantity'>[]> {
  const byProtocol = new Map<string, Pick<Read, 'takenAt' | 'quantity'>[]>();
  for (const { leftOut, protocolId, takenAt, medianOhm, whole } of resistanceTimes) {
    const ohm = medianOhm ?? whole?.value;
    if (leftOut !== null || ohm === undefined) continue;
    const name = protocols.get(protocolId)?.name ?? '';
    byProtocol.set(name, [...(byProtocol.get(name) ?? []), { takenAt, quantity: { value: ohm, u: 0 } }]);
  }
  return byProtocol;
}

/** Resistances of a cell or pack over time under the protocol it was read under most often, the oldest first. */
export interface ResistanceCourse {
  protocol: string;
  read: { at: Date; ohm: number }[];
}

/** Null where no protocol was read twice. */
export function courseOf(
  byProtocol: ReadonlyMap<string, Pick<Read, 'takenAt' | 'quantity'>[]>,
): ResistanceCourse | null {
  const [most] = [...byProtocol].sort(([, one], [, other]) => other.length - one.length);
  if (!most || most[1].length < 2) return null;
  const [protocol, read] = most;
  return { protocol, read: read.toReversed().map(({ takenAt, quantity }) => ({ at: takenAt, ohm: quantity.value })) };
}
