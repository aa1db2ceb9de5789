import { chemistryKeys } from '@/core/chemistry/chemistries';
import { z } from 'zod';

/** The shapes of the API. Version 1 is fixed: fields may be added, none changed. */

/** Far beyond any bench; reckoning with more would overflow. */
const most = 1e9;
const figure = z.number().min(-most).max(most);
const positive = z.number().min(1 / most).max(most);
const warnings = z.array(z.object({ code: z.string(), message: z.string() }));

const loadStepRequest = z
  .object({
    method: z.literal('load-step'),
    openVoltageV: figure,
    loadedVoltageV: figure,
    currentA: positive.optional(),
    loadResistanceOhm: positive.optional(),
    droopV: figure.default(0),
    seriesCells: z.int().min(1).max(1000).default(1),
    voltageResolutionV: positive.optional().describe('Last digit of the voltmeter; 1 mV is assumed, and said so, where it is missing.'),
    currentResolutionA: positive.optional().describe('Last digit of the ammeter; 10 mA is assumed, and said so, where it is missing.'),
    loadPowerRatingW: positive.optional(),
  })
  .refine((step) => (step.currentA === undefined) !== (step.loadResistanceOhm === undefined), { message: 'Give either currentA or loadResistanceOhm.', path: ['currentA'] });

const twoCurrentRequest = z.object({
  method: z.literal('two-current'),
  lowCurrentA: figure.min(0),
  highCurrentA: positive,
  voltageAtLowV: figure,
  voltageAtHighV: figure,
  seriesCells: z.int().min(1).max(1000).default(1),
  voltageResolutionV: positive.optional(),
  currentResolutionA: positive.optional(),
});

export const resistanceRequest = z.discriminatedUnion('method', [loadStepRequest, twoCurrentRequest]);

export const resistanceResponse = z.object({
  resistanceOhm: z.number(),
  standardUncertaintyOhm: z.number(),
  perCellOhm: z.number(),
  currentA: z.number(),
  loadPowerW: z.number(),
  budget: z.array(z.object({ input: z.string(), uOhm: z.number() })),
  warnings,
});

export const loadParameter = z
  .string({ error: 'Give load=resistor:OHM, load=current:AMPERE or load=column.' })
  .regex(/^(resistor:[\d.]+|current:[\d.]+|column)$/, { error: 'Expected resistor:OHM, current:AMPERE or column.', abort: true })
  .refine((text) => text === 'column' || positive.safeParse(Number(text.split(':')[1])).success, 'Expected a resistor or current above zero.');

const numberParameter = z.coerce.number({ error: 'Expected a number.' });

export const dischargeQuery = z.object({
  load: loadParameter,
  cutoffV: numberParameter.min(1 / most).max(most).optional(),
  seriesCells: numberParameter.int().min(1).max(1000).default(1),
});

const quantity = z.object({ value: z.number(), u: z.number() });
const atHorizons = z.partialRecord(z.enum(['0.1s', '1s', '10s', '30s']), z.number());
const relaxation = z.object({ ohmicOhm: quantity, branches: z.array(z.object({ resistanceOhm: quantity, timeConstantS: quantity })), residualOhm: z.number() });

export const dischargeResponse = z.object({
  samples: z.number(),
  durationS: z.number(),
  capacityAh: z.number(),
  energyWh: z.number(),
  meanVoltageV: z.number(),
  meanCurrentA: z.number(),
  endVoltageV: z.number(),
  reachedCutoff: z.boolean().nullable(),
  standardUncertaintyAh: z.number(),
  columns: z.record(z.string(), z.object({ index: z.number(), heading: z.string(), unit: z.string(), assumed: z.boolean() })),
  gaps: z.array(z.object({ fromS: z.number(), toS: z.number() })),
  steps: z.array(z.object({ atS: z.number(), deltaCurrentA: z.number(), fromV: z.number(), resistanceOhm: atHorizons, standardUncertaintyOhm: atHorizons, relaxation: relaxation.nullable() })),
  warnings,
});

export const partialCapacityRequest = z.object({
  chemistry: z.enum(chemistryKeys.filter((key) => key !== 'alkaline')),
  startVoltagesV: z.array(figure).min(1).max(1000),
  chargeAh: positive,
  endVoltageV: figure.optional(),
  voltageUncertaintyV: figure.min(0).optional(),
});

export const partialCapacityResponse = z.object({
  startSoc: z.number(),
  capacityAh: z.number(),
  standardUncertaintyAh: z.number(),
  perCell: z.array(z.object({ startSoc: z.number(), capacityAh: z.number(), standardUncertaintyAh: z.number() })),
  warnings,
});

export const matchRequest = z.object({
  series: z.int().min(1).max(100),
  parallel: z.int().min(1).max(100),
  cells: z
    .array(z.object({ id: z.string().min(1).max(100), capacityAh: positive, resistanceOhm: positive, voltageV: figure.optional(), bond: z.string().max(100).optional() }))
    .max(2000),
  rules: z.object({ joinWithinV: positive.optional(), enoughAh: positive.optional() }).optional(),
});

export const matchResponse = z.object({
  groups: z.array(z.object({ cells: z.array(z.string()), capacityAh: z.number(), resistanceOhm: z.number() })),
  packCapacityAh: z.number(),
  upperBoundAh: z.number(),
  gap: z.number(),
  spread: z.number().describe('(strongest − weakest group) / weakest group'),
  proven: z.boolean(),
  left: z.array(z.string()),
  warnings,
});

export const healthResponse = z.object({ status: z.enum(['ok', 'degraded']), database: z.enum(['ok', 'away']), version: z.string() });

/** A log to keep with a cell. */
export const runQuery = z.object({
  cell: z.string({ error: 'Give cell=CODE.' }).min(1),
  load: loadParameter,
  endedAt: z.iso.datetime({ offset: true }).optional(),
  fileName: z.string().max(200).default('log.csv'),
});

export const runResponse = z.object({
  id: z.number(),
  cell: z.string(),
  samples: z.number(),
  capacityAh: z.number(),
  standardUncertaintyAh: z.number(),
  reachedCutoff: z.boolean().nullable(),
  warnings,
});
