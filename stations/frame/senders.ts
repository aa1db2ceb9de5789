'use client';

import { fileBuildReading } from '@/stations/builds/actions';
import { fileGroups } from '@/stations/clinic/actions';
import { fileSelfDischarge } from '@/stations/selfDischarge/actions';
import { fileSheetLine } from '@/stations/instruments/actions';
import { fileIntake } from '@/stations/intake/actions';
import { fileRescueReading } from '@/stations/rescue/actions';
import { sendReading } from '@/stations/resistance/sendReading';
import { type EntryLine, entryLine, type Filed } from '@/ui/entryLine';
import { waitedS, type WaitingLine } from '@/ui/outbox';

/** Where each bar files, by the first word of its place; the rest of it says which batch, round or sheet. */
const senders: Record<string, (line: EntryLine, of: string) => Promise<Filed>> = {
  intake: (line, batch) => fileIntake(batch, line),
  round: (line, id) => sendReading(Number(id), line),
  check: (line, id) => fileSheetLine(Number(id), line),
  clinic: (line) => fileGroups(line),
  hold: (line, id) => fileSelfDischarge(Number(id), line),
  build: (line, id) => fileBuildReading(Number(id), line),
  rescue: (line) => fileRescueReading(line),
};

/** Files a line from whatever page is open. */
export async function sendLine(line: WaitingLine): Promise<Filed> {
  const [kind = '', ...of] = line.place.split(' ');
  const send = senders[kind];
  return send
    ? send(entryLine.parse({ ...line, waitedS: waitedS(line, Date.now()) }), of.join(' '))
    : { ok: false, said: 'This version does not know where that line belongs: file it again, or drop it.' };
}
