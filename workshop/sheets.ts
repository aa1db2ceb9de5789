import 'server-only';
import { judgeSheet, type JudgedSheet } from '@/core/judging/judgeSheet';
import { crossCheckReadings, listCrossChecks } from '@/records/crossChecks';
import { database } from '@/records/database';
import { now } from './clock';
import { oncePer, type Workshop } from './judged';

/** Every sheet, judged; the newest first. */
export const judgedSheets = oncePer('judgedSheets', async ({ instruments }): Promise<JudgedSheet[]> => {
  const [checks, readings] = await Promise.all([listCrossChecks(database()), crossCheckReadings(database())]);
  return checks.map((check) =>
    judgeSheet(
      check,
      readings.filter((one) => one.crossCheckId === check.id),
      instruments,
      now(),
    ),
  );
});

/** Channels that stood alone in the newest sheet they were in, are on the bench and not corrected. */
export async function uncorrectedChannels(workshop: Workshop): Promise<number> {
  const seen = new Set<string>();
  let count = 0;
  for (const { channels } of await judgedSheets(workshop)) {
    for (const { name, apartOn, corrected: isCorrected, instrument } of channels) {
      if (seen.has(name)) continue;
      seen.add(name);
      if (apartOn > 0 && !isCorrected && instrument.archivedAt === null) count += 1;
    }
  }
  return count;
}
