import type { Calibration, NewCalibration } from '@/core/judging/facts';
import type { Correction } from '@/core/instruments/calibration';
import type { Queryable } from './database';

export async function addCalibration(
  db: Queryable,
  { instrumentId, channel, correction, crossCheckId, reference, calibratedAt, adjusted }: NewCalibration,
): Promise<number> {
  const { kind, offset, gain, covariance, residual, degrees } = correction;
  const { rows } = await db.query<{ id: number }>(
    `insert into calibration (instrument_id, channel, kind, offset_v, offset_u, gain, gain_u, covariance,
        residual_v, degrees, cross_check_id, reference, calibrated_at, showed_v, set_to_v)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15) returning id`,
    [
      instrumentId,
      channel,
      kind,
      offset.value,
      offset.u,
      gain.value,
      gain.u,
      covariance,
      residual,
      degrees > 0 && Number.isFinite(degrees) ? degrees : null,
      crossCheckId,
      reference,
      calibratedAt,
      adjusted?.showedV ?? null,
      adjusted?.setToV ?? null,
    ],
  );
  return rows[0]?.id as number;
}

interface CalibrationRow extends Omit<Calibration, 'correction'> {
  kind: Correction['kind'];
  offsetV: number;
  offsetU: number;
  gain: number;
  gainU: number;
  covariance: number;
  residualV: number;
  degrees: number | null;
}

/** Every calibration, newest first, withdrawn ones included. */
export async function listCalibrations(db: Queryable): Promise<Calibration[]> {
  const { rows } = await db.query<CalibrationRow>(`
    select id, instrument_id as "instrumentId", channel, kind, offset_v as "offsetV", offset_u as "offsetU",
      gain, gain_u as "gainU", covariance,
      residual_v as "residualV", degrees, cross_check_id as "crossCheckId", reference, calibrated_at as "calibratedAt",
      case when kind = 'adjusted' then jsonb_build_object('showedV', showed_v, 'setToV', set_to_v) end as adjusted,
      voided_at as "withdrawnAt", void_reason as "withdrawnBecause"
    from calibration order by calibrated_at desc, id desc`);
  return rows.map(({ kind, offsetV, offsetU, gain, gainU, covariance, residualV, degrees, ...row }) => ({
    ...row,
    correction: {
      kind,
      offset: { value: offsetV, u: offsetU },
      gain: { value: gain, u: gainU },
      covariance,
      residual: residualV,
      degrees: degrees ?? Infinity,
    },
  }));
}

export async function withdrawCalibration(db: Queryable, id: number, because: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update calibration set voided_at = now(), void_reason = $2 where id = $1 and voided_at is null',
    [id, because],
  );
  return rowCount === 1;
}
