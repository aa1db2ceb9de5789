import type { InstrumentRange } from '../instruments/instrument';

/** What is known of the tools of a log, each a limit as a maker states it: ± share of the reading ± a fixed part. */
export interface LogTools {
  /** Of the resistor or of the set current, a share. */
  loadTolerance?: number | undefined;
  voltageAccuracyShare?: number | undefined;
  voltageAccuracyV?: number | undefined;
  currentAccuracyShare?: number | undefined;
  currentAccuracyA?: number | undefined;
}

/**
 * The uncertainties of an instrument that wrote a log, from its maximum permissible errors. Null where it does not
 * measure a quantity or its errors were not noted.
 */
export function logToolsOf(
  loadTolerance: number | null,
  ranges: { voltage?: InstrumentRange; current?: InstrumentRange } | null,
): LogTools {
  const { voltage, current } = ranges ?? {};
  return {
    ...(loadTolerance === null ? {} : { loadTolerance }),
    ...(voltage &&
      !voltage.isAssumed && {
        voltageAccuracyShare: voltage.accuracyShare,
        voltageAccuracyV: voltage.accuracyCounts * voltage.resolution,
      }),
    ...(current &&
      !current.isAssumed && {
        currentAccuracyShare: current.accuracyShare,
        currentAccuracyA: current.accuracyCounts * current.resolution,
      }),
  };
}
