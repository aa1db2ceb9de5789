import { isPack, type JudgedSubject } from './subject';

/** Each group at rest, or as its charge ended, from the black lead, V; null where one was not read. */
export interface LastRest {
  groupsV: readonly (number | null)[];
  readAt: Date;
}

/** How a cell or a pack rested when it was read last; null where it never was. */
export function lastRest(subject: JudgedSubject): LastRest | null {
  if (!isPack(subject)) {
    const { voltage, voltageV } = subject;
    return voltage && voltageV !== null ? { groupsV: [voltageV], readAt: voltage.takenAt } : null;
  }
  const { latest, judgement, rested } = subject;
  if (latest?.state === 'charge-end' && judgement)
    return { groupsV: judgement.groups.map(({ voltageV }) => voltageV), readAt: latest.takenAt };
  const isRead = rested?.groupVoltagesV.some((v) => v !== null) ?? false;
  return rested && isRead ? { groupsV: rested.groupVoltagesV, readAt: rested.takenAt } : null;
}
