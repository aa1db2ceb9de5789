import { warningsAnswer } from './warningsAnswer';
import type { DischargeLoad } from '@/core/capacity/discharge';
import type { GroupAtEnd } from '@/core/capacity/groupsAtEnd';
import type { Discharge } from '@/core/capacity/discharge';
import { estimateEarlyEnd } from '@/core/capacity/earlyEnd';
import { partialCapacity } from '@/core/capacity/partial';
import { presetRules } from '@/core/chemistry/houseRules';
import { ImpossibleInput } from '@/core/impossibleInput';
import { otherCount } from '@/core/capacity/seriesCount';
import type { Chemistry } from '@/core/chemistry/chemistries';
import { openCircuitOf } from '@/core/chemistry/openCircuit';
import { voltmeterU } from '@/core/judging/curveBook';
import { exact, quadrature, type Quantity, read, rectangular } from '@/core/quantity/quantity';
import { loadStep, type StepResult } from '@/core/resistance/loadStep';
import { twoCurrentStep } from '@/core/resistance/twoCurrents';
import type { Warning } from '@/core/warning';
import type { z } from 'zod';
import { temporaryFolder } from '@/records/temporary';
import { inBackground } from '@/workshop/pool';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { spoolBody } from './logBody';
import type {
  dischargeQuery,
  dischargeResponse,
  groupsAtEndResponse,
  matchRequest,
  matchResponse,
  partialCapacityRequest,
  partialCapacityResponse,
  resistanceRequest,
  resistanceResponse,
} from './schemas';

const assumedVoltageStepV = 0.001;
const assumedCurrentStepA = 0.01;

type ResistanceRequest = z.infer<typeof resistanceRequest>;

/** Limits of the tools as standard uncertainties: the voltmeter's gain; its fixed part cancels in a drop. */
const voltmeterGainU = ({ voltageAccuracyShare = 0 }: ResistanceRequest): number => voltageAccuracyShare / Math.sqrt(3);

const currentLimit = (
  currentA: number,
  { currentAccuracyShare = 0, currentAccuracyA = 0 }: ResistanceRequest,
): number => currentAccuracyShare * currentA + currentAccuracyA;

/** Computes a resistance from the readings of one step; nothing is stored. */
export function computeResistance(request: z.infer<typeof resistanceRequest>): z.infer<typeof resistanceResponse> {
  const voltageStep = request.voltageResolutionV ?? assumedVoltageStepV;
  const currentStep = request.currentResolutionA ?? assumedCurrentStepA;
  const byResistor = request.method === 'load-step' && request.loadResistanceOhm !== undefined;
  const assumed: Warning[] =
    request.voltageResolutionV === undefined || (!byResistor && request.currentResolutionA === undefined)
      ? [{ code: 'resolution-assumed' }]
      : [];
  if (byResistor && request.loadTolerance === undefined)
    assumed.push({ code: 'load-tolerance-assumed', load: 'resistor', share: null });
  const step =
    request.method === 'two-current'
      ? twoCurrents(request, voltageStep, currentStep)
      : oneLoad(request, voltageStep, currentStep);
  return {
    resistanceOhm: step.resistance.value,
    standardUncertaintyOhm: step.resistance.u,
    perCellOhm: step.perCellOhm.value,
    currentA: step.currentA.value,
    loadPowerW: step.loadPowerW,
    budget: step.resistance.budget.map(({ input, u }) => ({ input, uOhm: u })),
    warnings: warningsAnswer([...step.warnings, ...assumed]),
  };
}

function oneLoad(
  request: Extract<z.infer<typeof resistanceRequest>, { method: 'load-step' }>,
  voltageStep: number,
  currentStep: number,
): StepResult {
  const { loadResistanceOhm, loadPowerRatingW, currentA } = request;
  return loadStep({
    openV: read(request.openVoltageV, voltageStep),
    loadedV: read(request.loadedVoltageV, voltageStep),
    droopV: exact(request.droopV),
    seriesCells: request.seriesCells,
    gainU: voltmeterGainU(request),
    load:
      loadResistanceOhm === undefined
        ? {
            kind: 'ammeter',
            currentA: {
              value: currentA ?? NaN,
              u: quadrature(rectangular(currentStep), currentLimit(currentA ?? 0, request) / Math.sqrt(3)),
            },
          }
        : {
            kind: 'resistor',
            resistanceOhm: {
              value: loadResistanceOhm,
              u: (loadResistanceOhm * (request.loadTolerance ?? 0)) / Math.sqrt(3),
            },
            ...(loadPowerRatingW === undefined ? {} : { powerRatingW: loadPowerRatingW }),
          },
  });
}

const twoCurrents = (
  request: Extract<z.infer<typeof resistanceRequest>, { method: 'two-current' }>,
  voltageStep: number,
  currentStep: number,
): StepResult =>
  twoCurrentStep({
    lowCurrentA: read(request.lowCurrentA, currentStep),
    highCurrentA: read(request.highCurrentA, currentStep),
    atLowV: read(request.voltageAtLowV, voltageStep),
    atHighV: read(request.voltageAtHighV, voltageStep),
    currentLimitA: currentLimit(request.highCurrentA - request.lowCurrentA, request),
    gainU: voltmeterGainU(request),
    seriesCells: request.seriesCells,
  });

/** The load of a query parameter: `resistor:440`, `current:0.5` or `column`. */
export function loadOf(parameter: string): DischargeLoad {
  const [kind, figure] = parameter.split(':');
  if (kind === 'resistor') return { kind, resistanceOhm: Number(figure) };
  return kind === 'current' ? { kind, currentA: Number(figure) } : { kind: 'column' };
}

/** The most time for reading a log, and for finding a match, while a program waits. */
const longestReadMs = 120_000;
const longestMatchMs = 20_000;
/** A match ends by itself with its best so far; if it does not, it is ended. */
const graceMs = 5_000;

/** The groups of a pack as a discharge left them, as a program reads them. */
export const groupsAnswer = (groups: GroupAtEnd[] | null): z.infer<typeof groupsAtEndResponse> =>
  groups?.map(({ leftAh, ...group }) => ({
    ...group,
    leftAh: leftAh?.value ?? null,
    standardUncertaintyAh: leftAh?.u ?? null,
  })) ?? null;

/** Integrates a CSV discharge log; nothing is stored. */
export async function computeDischarge(
  {
    load,
    cutoffV,
    cutoffPerGroupV,
    seriesCells,
    voltageResolutionV,
    mapping,
    chemistry,
    ...tools
  }: z.infer<typeof dischargeQuery>,
  { body, signal }: Pick<Request, 'body' | 'signal'>,
): Promise<z.infer<typeof dischargeResponse>> {
  const folder = await temporaryFolder();
  const file = join(folder, 'log');
  const reading = await spoolBody(body, file)
    .then(() =>
      inBackground(
        'readLog',
        {
          file,
          load: loadOf(load),
          tools,
          voltageDigitV: voltageResolutionV,
          logged: { series: seriesCells, mapping },
          cutoffV,
          cutoffPerGroupV,
        },
        { crew: 'asked', signal, limitMs: longestReadMs },
      ),
    )
    .finally(() => rm(folder, { recursive: true, force: true }));
  const { capacityAh, budget, edges, groups, warnings, ...result } = reading.result;
  const other = chemistry && otherCount(result.segments, seriesCells, chemistry);
  if (other) throw new ImpossibleInput('seriesCells', { code: 'other-count', series: seriesCells, ...other });
  const early = chemistry && result.reachedCutoff === false ? estimateOf(reading.result, chemistry, seriesCells) : null;
  return {
    ...result,
    ...(early && { estimatedCapacityAh: { value: early.value, standardUncertainty: early.u } }),
    capacityAh: capacityAh.value,
    standardUncertaintyAh: capacityAh.u,
    budget: budget.map(({ input, u }) => ({ input, uAh: u })),
    columns: Object.fromEntries(
      reading.columns.map(({ field, position, index, heading, unit, assumed }) => [
        `${field}${position ?? ''}`,
        { index, heading, unit, assumed },
      ]),
    ),
    groups: groupsAnswer(groups),
    steps: edges,
    warnings: warningsAnswer([...reading.notices, ...warnings]),
  };
}

/** By the table of its chemistry, its resistance taken from its own steps. */
function estimateOf(discharge: Discharge, chemistry: Chemistry, series: number): Quantity | null {
  if (chemistry === 'alkaline') return null;
  const curve = openCircuitOf(chemistry);
  const voltmeter = voltmeterU(null, discharge.endVoltageV / series);
  return estimateEarlyEnd({ discharge, curve, series, voltmeterU: voltmeter, resistanceOhm: null })?.capacityAh ?? null;
}

export function computePartialCapacity({
  chemistry,
  endVoltageV,
  chargeAccuracyShare,
  voltageUncertaintyV,
  ...request
}: z.infer<typeof partialCapacityRequest>): z.infer<typeof partialCapacityResponse> {
  const { startSoc, capacityAh, perCell, warnings } = partialCapacity({
    ...request,
    curve: openCircuitOf(chemistry),
    ...(endVoltageV === undefined ? {} : { endVoltageV }),
    ...(chargeAccuracyShare === undefined ? {} : { chargeAccuracyShare }),
    ...(voltageUncertaintyV === undefined ? {} : { voltageUncertaintyV }),
  });
  return {
    startSoc: startSoc.value,
    capacityAh: capacityAh.value,
    standardUncertaintyAh: capacityAh.u,
    perCell: perCell.map((cell) => ({
      startSoc: cell.startSoc.value,
      capacityAh: cell.capacityAh.value,
      standardUncertaintyAh: cell.capacityAh.u,
    })),
    warnings: warningsAnswer(warnings),
  };
}

/** Arranges cells into groups beside the server's own thread: after the time limit with the best found until then. */
export async function computeMatch(
  { series, parallel, cells, pins, rules }: z.infer<typeof matchRequest>,
  signal: AbortSignal,
): Promise<z.infer<typeof matchResponse>> {
  const { enoughAh, ...limits } = rules ?? {};
  const request = {
    series,
    parallel,
    cells: cells.map(({ standardUncertaintyAh: capacityU, ...cell }) => ({ ...cell, capacityU })),
    pins,
    limits: { sharingTimes: presetRules('workshop').sharingTimes, ...limits },
    enoughAh,
  };
  const match = await inBackground(
    'match',
    { request, limitMs: longestMatchMs },
    { crew: 'asked', signal, limitMs: longestMatchMs + graceMs },
  );
  return {
    ...match,
    groups: match.groups.map((group) => ({ ...group, cells: group.cells.map((cell) => cell.id) })),
    left: match.left.map((cell) => cell.id),
    warnings: warningsAnswer(match.warnings),
  };
}
