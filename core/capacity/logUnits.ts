import type { LogField } from './logColumns';

const dayS = 86_400;
const voltageFactors = { v: 1, volt: 1, volts: 1, mv: 1e-3, millivolt: 1e-3 };
const unitFactors: Record<LogField, Record<string, number>> = {
  time: {
    s: 1,
    sec: 1,
    second: 1,
    seconds: 1,
    secs: 1,
    ms: 1e-3,
    millis: 1e-3,
    min: 60,
    mins: 60,
    minute: 60,
    minutes: 60,
    h: 3600,
    hr: 3600,
    hour: 3600,
    hours: 3600,
    d: dayS,
    day: dayS,
    days: dayS,
  },
  voltage: voltageFactors,
  group: voltageFactors,
  current: { a: 1, amp: 1, amps: 1, ampere: 1, ma: 1e-3, milliamp: 1e-3 },
  cycle: { '': 1 },
  step: { '': 1 },
  temperature: { c: 1, '°c': 1, degc: 1, celsius: 1 },
};

/** The units that a column of this field may be written in, each with what one of it is in SI. */
export const unitsOf = (field: LogField): Readonly<Record<string, number>> => unitFactors[field];
