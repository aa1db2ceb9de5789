const readable = ['voltage', 'mass', 'inspection', 'load_step', 'two_current', 'resistance', 'pulse', 'weld', 'note'];

const bodies = readable.map(
  (table, place) =>
    `select '${table}' as kind, ${place} as place, to_jsonb(${table}) as figures from ${table} ` +
    'where entry_id = entry.id',
);

/** Everything filed of subjects, a row for each subject and body, to select from in tests. */
export const filed = `(
  select entry.id, entry.uid, subject.code, entry.confirmed, entry.voided_at, entry.void_reason, entry.state,
    instrument.code as instrument, body.kind, body.place, body.figures
  from entry join entry_subject on entry_id = entry.id join subject on subject.id = subject_id
  left join instrument on instrument.id = instrument_id
  cross join lateral (${bodies.join(' union all ')}) body) filed`;
