import { presetRules } from '@/core/chemistry/houseRules';
import { benchMeterU } from '@/core/instruments/instrument';
import type { ChargerSheet, LimitedBy, SheetInput } from '@/core/planning/sheet';
import { bareFacts, type SubjectFacts, type VoltageRound } from '@/core/state/facts';
import { known } from '@/core/state/known';
import { stateOf } from '@/core/state/subjectState';
import { afterText, lookTexts, modeText, sheetCautions, sheetRefusalText } from '@/words/chargerSheets';
import { now } from '@/workshop/clock';
import { inBackground } from '@/workshop/pool';
import type { z } from 'zod';
import type { chargerSheetRequest, chargerSheetResponse } from './schemas';

type SheetRequest = z.infer<typeof chargerSheetRequest>;
type Answered = z.infer<typeof chargerSheetResponse>;

const limitMs = 10_000;
/** Bled through one resistor where a charger is only said to balance, A. Common practice. */
const usualBleedA = 0.1;
/** A capacity or a resistance that was sent is known to this fraction (standard). From memory. */
const [capacityU, resistanceU] = [0.02, 0.05];

/** Every setting of a charger for a pack and a goal, or why not. Nothing is stored. */
export async function computeChargerSheet(request: SheetRequest, signal: AbortSignal): Promise<Answered> {
  const input = sheetAsked(request);
  const { sheet, refusal } = await inBackground('sheet', input, { crew: 'asked', signal, limitMs });
  return sheet ? answered(sheet, request) : { allowed: false, code: refusal.code, why: sheetRefusalText(refusal) };
}

function sheetAsked({ pack, charger, goal, rules: changed, ...input }: SheetRequest): SheetInput {
  const rules = { ...presetRules('workshop'), ...changed };
  const { measuredVoltageV, groupVoltagesV, counted, labelRead } = pack;
  const bleedA = charger.balances === false ? 0 : (charger.bleedA ?? (charger.balances ? usualBleedA : 0));
  return {
    state: stateOf(factsOf(pack), rules, now()),
    measured: {
      measuredV: measuredVoltageV ?? null,
      groupsV: groupVoltagesV ?? null,
      isCounted: counted ?? false,
      isLabelRead: labelRead ?? false,
    },
    charger: { ...charger, bleedA },
    goal,
    rules,
    wanted: {
      currentA: input.wantedCurrentA ?? null,
      cutoffPerGroupV: input.cutoffPerGroupV ?? null,
      untilChargeAh: input.untilChargeAh ?? null,
    },
    loadOhm: null,
  };
}

/** As if it had been measured just now. */
function factsOf({ chemistry, series, capacityAh, ...pack }: SheetRequest['pack']): SubjectFacts {
  const { groupCapacitiesAh, groupResistancesOhm } = pack;
  const fraction = (value: number, u: number) => known({ value, u: u * value }, 'measured');
  const all = new Array<number>(series).fill(capacityAh);
  return {
    ...bareFacts({ code: '', chemistry, series, ratedCapacityAh: capacityAh }),
    balanceConnector: pack.balanceConnector ?? null,
    labelChargeA: pack.labelChargeA ?? null,
    labelDischargeA: pack.labelDischargeA ?? null,
    rounds: roundOf(pack),
    capacities: (groupCapacitiesAh ?? all).map((ah) => fraction(ah, capacityU)),
    resistances: (groupResistancesOhm ?? []).map((ohm) => fraction(ohm, resistanceU)),
    rescues: pack.rescues ?? 0,
  };
}

function roundOf({
  measuredVoltageV,
  groupVoltagesV,
}: Pick<SheetRequest['pack'], 'measuredVoltageV' | 'groupVoltagesV'>): VoltageRound[] {
  if (measuredVoltageV === undefined && groupVoltagesV === undefined) return [];
  const read = (value: number) => ({ value, u: benchMeterU });
  return [
    {
      state: 'rest',
      at: now(),
      groupsV: (groupVoltagesV ?? []).map(read),
      terminalV: measuredVoltageV === undefined ? null : read(measuredVoltageV),
    },
  ];
}

/** Fewer words for the API: the limits of the thin connector and of a rescue. */
const limitNames: Record<LimitedBy, Extract<Answered, { allowed: true }>['limitedBy']> = {
  house: 'house',
  rescued: 'house',
  label: 'label',
  charger: 'charger',
  plug: 'charger',
  power: 'power',
  'weakest-group': 'weakest-group',
  'gentle-start': 'gentle-start',
  wanted: 'wanted',
};

function answered(sheet: ChargerSheet, { pack, goal }: SheetRequest): Answered {
  const { forecast, gentle } = sheet;
  return {
    allowed: true,
    limitedBy: limitNames[sheet.limitedBy],
    forecast: {
      afterMinuteV: forecast.afterMinuteV,
      endRestV: forecast.endRestV,
      chargeAh: forecast.charge.value,
      minutes: forecast.minutes.value,
      standardUncertaintyMin: forecast.minutes.u,
    },
    settings: {
      mode: modeText(pack, sheet),
      cells: sheet.series,
      currentA: gentle?.currentA ?? (sheet.main === 'charge' ? sheet.chargeA : sheet.dischargeA) ?? 0,
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
