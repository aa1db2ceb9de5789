import { createCsvLog } from '@/core/capacity/csvLog';
import { createDischargeMeter, type DischargeLoad } from '@/core/capacity/discharge';
import { partialCapacity } from '@/core/capacity/partial';
import { matchCells } from '@/core/matching/match';
import { exact, read } from '@/core/quantity/quantity';
import { loadStep, type StepResult } from '@/core/resistance/loadStep';
import { twoCurrentStep } from '@/core/resistance/twoCurrents';
import type { Warning } from '@/core/warning';
import type { z } from 'zod';
import { csvTextOf } from './csvBody';
import type { dischargeQuery, dischargeResponse, matchRequest, matchResponse, partialCapacityRequest, partialCapacityResponse, resistanceRequest, resistanceResponse } from './schemas';

const assumedVoltageStepV = 0.001;
const assumedCurrentStepA = 0.01;

/** Computes a resistance from the readings of one step; nothing is stored. */
export function computeResistance(request: z.infer<typeof resistanceRequest>): z.infer<typeof resistanceResponse> {
  const voltageStep = request.voltageResolutionV ?? assumedVoltageStepV;
  const currentStep = request.currentResolutionA ?? assumedCurrentStepA;
  const byResistor = request.method === 'load-step' && request.loadResistanceOhm !== undefined;
  const assumed: Warning[] =
    request.voltageResolutionV === undefined || (!byResistor && request.currentResolutionA === undefined)
      ? [{ code: 'resolution-assumed', message: 'Where no resolution was given, 1 mV and 10 mA were assumed.' }]
      : [];
  const step = request.method === 'two-current' ? twoCurrents(request, voltageStep, currentStep) : oneLoad(request, voltageStep, currentStep);
  return {
    resistanceOhm: step.resistance.value,
    standardUncertaintyOhm: step.resistance.u,
    perCellOhm: step.perCellOhm.value,
    currentA: step.currentA.value,
    loadPowerW: step.loadPowerW,
    budget: step.resistance.budget.map(({ input, u }) => ({ input, uOhm: u })),
    warnings: [...step.warnings, ...assumed],
  };
}

function oneLoad(request: Extract<z.infer<typeof resistanceRequest>, { method: 'load-step' }>, voltageStep: number, currentStep: number): StepResult {
  const { loadResistanceOhm, loadPowerRatingW, currentA } = request;
  return loadStep({
    openV: read(request.openVoltageV, voltageStep),
    loadedV: read(request.loadedVoltageV, voltageStep),
    droopV: exact(request.droopV),
    seriesCells: request.seriesCells,
    load:
      loadResistanceOhm === undefined
        ? { kind: 'ammeter', currentA: read(currentA ?? NaN, currentStep) }
        : { kind: 'resistor', resistanceOhm: exact(loadResistanceOhm), ...(loadPowerRatingW === undefined ? {} : { powerRatingW: loadPowerRatingW }) },
  });
}

const twoCurrents = (request: Extract<z.infer<typeof resistanceRequest>, { method: 'two-current' }>, voltageStep: number, currentStep: number): StepResult =>
  twoCurrentStep({
    lowCurrentA: read(request.lowCurrentA, currentStep),
    highCurrentA: read(request.highCurrentA, currentStep),
    atLowV: read(request.voltageAtLowV, voltageStep),
    atHighV: read(request.voltageAtHighV, voltageStep),
    seriesCells: request.seriesCells,
  });

/** The load of a query parameter: `resistor:440`, `current:0.5` or `column`. */
export function loadOf(parameter: string): DischargeLoad {
  const [kind, figure] = parameter.split(':');
  if (kind === 'resistor') return { kind, resistanceOhm: Number(figure) };
  return kind === 'current' ? { kind, currentA: Number(figure) } : { kind: 'column' };
}

/** Integrates a CSV discharge log as it arrives; nothing is stored. */
export async function computeDischarge(query: z.infer<typeof dischargeQuery>, body: ReadableStream<Uint8Array> | null): Promise<z.infer<typeof dischargeResponse>> {
  const meter = createDischargeMeter({ load: loadOf(query.load), seriesCells: query.seriesCells, ...(query.cutoffV === undefined ? {} : { cutoffV: query.cutoffV }) });
  const log = createCsvLog(meter.push, query.seriesCells);
  for await (const text of csvTextOf(body)) log.push(text);
  const end = log.finish();
  const { capacityAh, edges, warnings, ...result } = meter.finish(end.voltageStepV);
  return {
    ...result,
    capacityAh: capacityAh.value,
    standardUncertaintyAh: capacityAh.u,
    columns: Object.fromEntries(end.columns.map(({ field, index, heading, unit, assumed }) => [field, { index, heading, unit, assumed }])),
    steps: edges,
    warnings: [...end.warnings, ...warnings],
  };
}

export function computePartialCapacity({ endVoltageV, voltageUncertaintyV, ...request }: z.infer<typeof partialCapacityRequest>): z.infer<typeof partialCapacityResponse> {
  const { startSoc, capacityAh, perCell, warnings } = partialCapacity({
    ...request,
    ...(endVoltageV === undefined ? {} : { endVoltageV }),
    ...(voltageUncertaintyV === undefined ? {} : { voltageUncertaintyV }),
  });
  return {
    startSoc: startSoc.value,
    capacityAh: capacityAh.value,
    standardUncertaintyAh: capacityAh.u,
    perCell: perCell.map((cell) => ({ startSoc: cell.startSoc.value, capacityAh: cell.capacityAh.value, standardUncertaintyAh: cell.capacityAh.u })),
    warnings,
  };
}

export function computeMatch({ series, parallel, cells, rules }: z.infer<typeof matchRequest>): z.infer<typeof matchResponse> {
  const match = matchCells({
    series,
    parallel,
    cells,
    ...(rules?.joinWithinV === undefined ? {} : { joinWithinV: rules.joinWithinV }),
    ...(rules?.enoughAh === undefined ? {} : { enoughAh: rules.enoughAh }),
  });
  return {
    ...match,
    groups: match.groups.map((group) => ({ ...group, cells: group.cells.map((cell) => cell.id) })),
    left: match.left.map((cell) => cell.id),
  };
}
