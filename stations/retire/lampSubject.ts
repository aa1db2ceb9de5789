import { inspectionFindings } from '@/core/grading/intake';
import { lastRest } from '@/core/judging/lastRest';
import { isPack, type JudgedSubject } from '@/core/judging/subject';

/** What of a cell or pack decides whether a lamp runs it down, and for how long. */
export function lampSubject(subject: JudgedSubject) {
  const read = lastRest(subject)?.groupsV.filter((v) => v !== null) ?? [];
  return {
    chemistry: subject.chemistry,
    series: isPack(subject) ? subject.series : 1,
    capacityAh: subject.capacity?.value ?? subject.ratedCapacityAh,
    groupsV: read.length > 0 ? read : null,
    isDamaged: (subject.findings ?? []).some((finding) => inspectionFindings[finding].safety),
  };
}
