import { presetRules } from '@/core/chemistry/houseRules';
import { afterText, lookTexts, modeText, sheetCautions, sheetRefusalText } from '@/words/chargerSheets';
import { inBackground } from '@/workshop/pool';
import type { z } from 'zod';
import type { chargerSheetRequest, chargerSheetResponse } from './schemas';

const limitMs = 10_000;
/** Bled through one resistor where a charger is only said to balance, A. Common practice. */
const usualBleedA = 0.1;

/** Every setting of a charger for a pack and a goal, or why not. Nothing is stored. */
export async function computeChargerSheet(
  { pack: told, charger, goal, rules }: z.infer<typeof chargerSheetRequest>,
  signal: AbortSignal,
): Promise<z.infer<typeof chargerSheetResponse>> {
  const pack = {
    chemistry: told.chemistry,
    series: told.series,
    capacityAh: told.capacityAh,
    measuredV: told.measuredVoltageV ?? null,
    groupsV: told.groupVoltagesV ?? null,
    isCounted: told.counted ?? false,
    isLabelRead: told.labelRead ?? false,
    rescues: told.rescues ?? 0,
  };
  const bleedA = charger.balances === false ? 0 : (charger.bleedA ?? (charger.balances ? usualBleedA : 0));
  const limits = { ...presetRules('workshop'), ...rules };
  const asked = { pack, charger: { ...charger, bleedA }, goal, rules: limits, loadOhm: null };
  const { sheet, refusal } = await inBackground('sheet', asked, { crew: 'asked', signal, limitMs });
  if (!sheet) return { allowed: false, code: refusal.code, why: sheetRefusalText(refusal) };
  return {
    allowed: true,
    settings: {
      mode: modeText(pack, sheet),
      cells: sheet.series,
      currentA: (sheet.main === 'charge' ? sheet.chargeA : sheet.dischargeA) ?? 0,
      chargeCurrentA: sheet.chargeA,
      dischargeCurrentA: sheet.dischargeA,
      endVoltageV: sheet.endV,
      timerMin: sheet.timerMin,
      capacityLimitAh: sheet.capacityLimitAh,
      temperatureLimitC: sheet.temperatureLimitC,
      ...(sheet.dischargeEndV !== null && { dischargeEndV: sheet.dischargeEndV }),
      ...(sheet.restMin !== null && { restMin: sheet.restMin }),
      ...(sheet.cycles !== null && { cycles: sheet.cycles }),
    },
    steps: sheet.steps,
    expectedMin: sheet.expectedMin,
    attendedMin: sheet.attendedMin,
    look: lookTexts(pack, sheet),
    after: afterText(pack.chemistry, goal),
    cautions: sheetCautions(pack, sheet),
  };
}
