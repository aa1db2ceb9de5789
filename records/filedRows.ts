import { everyBody } from './ledger';

/** Everything filed of subjects, a row for each subject and body, to select from in tests. */
export const filed = `(
  select entry.id, entry.uid, subject.code, entry.confirmed, entry.voided_at, entry.void_reason, entry.state,
    instrument.code as instrument, body.kind, body.place, body.told as figures
  from entry join entry_subject on entry_id = entry.id join subject on subject.id = subject_id
  left join instrument on instrument.id = instrument_id
  cross join lateral (${everyBody}) body) filed`;
