import { counters } from './logColumns';
import type { Sample } from './logReader';

/** Samples by column: as they leave the workshop, and as a chart takes them. What was not logged is null. */
export interface SampleColumns {
  timeS: number[];
  voltageV: number[];
  currentA: (number | null)[] | null;
  temperatureC: (number | null)[] | null;
  /** Of each group, from the negative terminal. */
  groupsV: (number | null)[][] | null;
  /** As the device numbered its cycles and steps. */
  cycle: (number | null)[] | null;
  step: (number | null)[] | null;
}

const orNull = (values: (number | null)[]): (number | null)[] | null =>
  values.every((value) => value === null) ? null : values;

export function columnsOf(samples: readonly Sample[]): SampleColumns {
  const series = samples[0]?.groupsV?.length ?? 0;
  return {
    timeS: samples.map(({ timeS }) => timeS),
    voltageV: samples.map(({ voltageV }) => voltageV),
    currentA: orNull(samples.map(({ currentA }) => currentA)),
    temperatureC: orNull(samples.map(({ temperatureC }) => temperatureC)),
    groupsV:
      series === 0
        ? null
        : Array.from({ length: series }, (_, i) => samples.map(({ groupsV }) => groupsV?.[i] ?? null)),
    cycle: orNull(samples.map(({ cycle }) => cycle ?? null)),
    step: orNull(samples.map(({ step }) => step ?? null)),
  };
}

/** The samples that such columns hold. */
export const samplesIn = ({ timeS, voltageV, currentA, temperatureC, groupsV, cycle, step }: SampleColumns): Sample[] =>
  timeS.map((atS, i) => ({
    timeS: atS,
    voltageV: voltageV[i] ?? NaN,
    currentA: currentA?.[i] ?? null,
    temperatureC: temperatureC?.[i] ?? null,
    groupsV: groupsV && groupsV.map((one) => one[i] ?? NaN),
    ...(cycle && { cycle: cycle[i] ?? null }),
    ...(step && { step: step[i] ?? null }),
  }));

/** What was logged beside time and voltage. */
export interface LoggedFields {
  current: boolean;
  temperature: boolean;
  /** Groups with a column of their own. */
  series: number;
  cycle: boolean;
  step: boolean;
}

/** Names and values of the columns of samples, the unit in each name, in the order they are written in. */
export const namedColumns = (logged: LoggedFields) =>
  [
    { name: 'time_s', of: ({ timeS }: Sample): number | null => timeS },
    { name: 'voltage_v', of: ({ voltageV }: Sample) => voltageV },
    ...(logged.current ? [{ name: 'current_a', of: ({ currentA }: Sample) => currentA }] : []),
    ...(logged.temperature ? [{ name: 'temperature_c', of: ({ temperatureC }: Sample) => temperatureC }] : []),
    ...Array.from({ length: logged.series }, (_, i) => ({
      name: `group_${i + 1}_v`,
      of: ({ groupsV }: Sample) => groupsV?.[i] ?? null,
    })),
    ...counters
      .filter((counter) => logged[counter])
      .map((counter) => ({ name: counter, of: (sample: Sample) => sample[counter] ?? null })),
  ] as const;

type NamedColumns = ReturnType<typeof namedColumns>;

/** The heading of a CSV of samples, and lines of it, as RFC 4180 has them. */
export const csvHeading = (columns: NamedColumns): string => `${columns.map(({ name }) => name).join(',')}\r\n`;
export const csvLines = (columns: NamedColumns, samples: readonly Sample[]): string =>
  samples.map((sample) => `${columns.map(({ of }) => of(sample) ?? '').join(',')}\r\n`).join('');

/** What a run logged, by its columns. */
export function loggedBy(columns: readonly { field: string }[]): LoggedFields {
  const has = (wanted: string): boolean => columns.some(({ field }) => field === wanted);
  return {
    current: has('current'),
    temperature: has('temperature'),
    series: columns.filter(({ field }) => field === 'group').length,
    cycle: has('cycle'),
    step: has('step'),
  };
}

/** What such columns hold. */
export const loggedIn = ({ currentA, temperatureC, groupsV, cycle, step }: SampleColumns): LoggedFields => ({
  current: currentA !== null,
  temperature: temperatureC !== null,
  series: groupsV?.length ?? 0,
  cycle: cycle !== null,
  step: step !== null,
});
