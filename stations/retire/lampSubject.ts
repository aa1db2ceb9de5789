import { inspectionFindings } from '@/core/grading/intake';
import type { JudgedSubject } from '@/core/judging/subject';
import type { Workshop } from '@/workshop/judged';
import { stateNow } from '@/workshop/states';

/** What of a cell or pack decides whether a lamp runs it down, and for how long. */
export function lampSubject(subject: JudgedSubject, workshop: Workshop) {
  const { chemistry, series, groups } = stateNow(subject, workshop);
  const measured = groups.flatMap(({ restV }) => (restV ? [restV.value] : []));
  return {
    chemistry,
    curve: workshop.curves.of(subject) ?? undefined,
    series,
    capacityAh: Math.max(...groups.map(({ capacity }) => capacity.value)),
    groupsV: measured.length > 0 ? measured : null,
    isDamaged: (subject.findings ?? []).some((finding) => inspectionFindings[finding].safety),
  };
}
