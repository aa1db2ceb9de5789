/** Cautions that always apply. Common practice. */
export const cautions = [
  'Never charge or force a swollen, hot, leaking or dented cell.',
  'Never leave charging or discharging unattended: all planned jobs are within the attended hours.',
  'Charge on a surface that does not burn, with a smoke alarm. A fire bag is for carrying it outside, not for ' +
    'containing it.',
  'Check cell count, chemistry and polarity before you start.',
  'Insulate what you probe: a pack can deliver hundreds of amperes into a slipped probe.',
  'Mains, vehicles, large or fixed storage, transport and disposal: local codes and licensed people decide, not this ' +
    'program.',
  'The program gives advice from readings. The person at the bench decides.',
] as const;
