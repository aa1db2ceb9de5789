'use server';

import { chemistries } from '@/core/chemistry/chemistries';
import { judgePartial } from '@/core/judging/judgePartial';
import { idsTogether } from '@/core/judging/shelf';
import { isPack } from '@/core/judging/subject';
import { type Answer, answering, fieldsOf, optional, refuse, typedPositive } from '@/stations/answer';
import { storing } from '@/stations/filing';
import { addressOf } from '@/ui/tokens';
import { now } from '@/workshop/clock';
import { subjectNamed } from '@/workshop/judged';
import { randomUUID } from 'node:crypto';
import { revalidatePath } from 'next/cache';
import { redirect } from 'next/navigation';
import { z } from 'zod';
import { typedCharge, typedVolts } from './partialTyped';

const typedPartial = z.object({
  start: z.string().max(1000),
  meter: z.string().max(40).default(''),
  charge: z
    .string()
    .transform(typedCharge)
    .refine((ah) => ah !== null && ah < 1000, 'Charge put in: a figure in Ah or mAh, such as 2.291.'),
  limitPercent: optional(typedPositive('Right to').refine((fraction) => fraction < 50, 'In per cent, such as 2.')),
});

/** Files a partial charge of a cell, with those welded to it, or of a pack. */
export async function filePartialAction(code: string, _: Answer | null, form: FormData): Promise<Answer> {
  const answer = await answering(async () => {
    const { start, meter, charge, limitPercent } = typedPartial.parse(fieldsOf(form));
    const { subject, workshop } = await subjectNamed(code);
    if (!subject || charge === null) return refuse('There is no such cell or pack.');
    if (chemistries[subject.chemistry].family !== 'lithium')
      return refuse('With this chemistry the charge put in does not show the capacity. Log a discharge.');
    if (subject.intake.class === 'out') return refuse(`${code} is scrapped. Do not charge it.`);
    const volts = typedVolts(start, isPack(subject) ? subject.series : 1);
    if (!volts || 'wrong' in volts) {
      const said = volts?.wrong ?? 'Its rested voltages are missing.';
      return refuse(said, { start: said });
    }
    const instrument = workshop.instruments.all.find((one) => one.code === meter && one.archivedAt === null);
    const entry = randomUUID();
    const partial = {
      startVoltagesV: volts.volts,
      step: volts.step,
      chargeAh: charge,
      chargeLimit: limitPercent === null ? null : limitPercent / 100,
      endVoltageV: null,
    };
    const takenWith = instrument ? { instrumentId: instrument.id, channel: null } : null;
    const judged = judgePartial(
      { ...partial, entry, takenAt: now(), instrumentId: instrument?.id ?? null, channel: null },
      subject,
      workshop,
    );
    if (!judged) return refuse('It started too near to full for a capacity.', { start: 'Lower.' });
    return storing({
      entry,
      subjectIds: idsTogether(subject, workshop),
      state: 'rest',
      takenWith,
      bodies: [{ kind: 'partial-charge', ...partial }],
    });
  });
  if (!answer.ok) return answer;
  revalidatePath('/', 'layout');
  redirect(addressOf(code));
}
