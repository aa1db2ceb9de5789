import { remediesAlone } from '@/core/packs/remedies';
import { unitsOf } from '@/core/capacity/logUnits';
import { inspectionKeys } from '@/core/grading/intake';
import { statuses } from '@/core/grading/status';
import { packFaults } from '@/core/packs/diagnosis/faults';
import { roundQuestions } from '@/core/packs/diagnosis/questions';
import { visitReasons } from '@/core/packs/diagnosis/visit';
import { packStates } from '@/core/packs/groupVoltages';
import { countText, dayText, momentText, numberText } from '@/workshop/strictFields';
import { chemistryKeys } from '@/core/chemistry/chemistries';
import { ruleBook, ruleKeys } from '@/core/chemistry/houseRules';
import { sheetGoals } from '@/core/planning/sheet';
import { z } from 'zod';

/** The shapes of the API. Version 1 is fixed: fields may be added, none changed. */

/** Far beyond any bench; computing with more would overflow. */
const most = 1e9;
const figure = z.number().min(-most).max(most);
const positive = z
  .number()
  .min(1 / most)
  .max(most);
const rechargeable = z.enum(chemistryKeys.filter((key) => key !== 'alkaline'));
const warnings = z.array(z.object({ code: z.string(), message: z.string() }));

/** What is known of the tools: limits as a maker states them. */
const toolFields = (number: z.ZodType<number, unknown>, fraction: z.ZodType<number, unknown>) => ({
  loadTolerance: fraction
    .optional()
    .describe(
      'Limit of the resistor or of the set current, a share; 0.01 is assumed, and said so, where it is missing.',
    ),
  voltageAccuracyShare: fraction.optional().describe('Limit of the voltmeter, a share of the reading.'),
  voltageAccuracyV: number.optional().describe('Limit of the voltmeter, its fixed part.'),
  currentAccuracyShare: fraction.optional().describe('Limit of the ammeter, a share of the reading.'),
  currentAccuracyA: number.optional().describe('Limit of the ammeter, its fixed part.'),
});

const bodyTools = toolFields(figure.min(0), z.number().min(0).max(1));

const loadStepRequest = z
  .object({
    method: z.literal('load-step'),
    openVoltageV: figure,
    loadedVoltageV: figure,
    currentA: positive.optional(),
    loadResistanceOhm: positive.optional(),
    droopV: figure.default(0),
    seriesCells: z.int().min(1).max(1000).default(1),
    voltageResolutionV: positive
      .optional()
      .describe('Last digit of the voltmeter; 1 mV is assumed, and said so, where it is missing.'),
    currentResolutionA: positive
      .optional()
      .describe('Last digit of the ammeter; 10 mA is assumed, and said so, where it is missing.'),
    loadPowerRatingW: positive.optional(),
    ...bodyTools,
  })
  .refine((step) => (step.currentA === undefined) !== (step.loadResistanceOhm === undefined), {
    message: 'Give either currentA or loadResistanceOhm.',
    path: ['currentA'],
  });

const twoCurrentRequest = z.object({
  method: z.literal('two-current'),
  lowCurrentA: figure.min(0),
  highCurrentA: positive,
  voltageAtLowV: figure,
  voltageAtHighV: figure,
  seriesCells: z.int().min(1).max(1000).default(1),
  voltageResolutionV: positive.optional(),
  currentResolutionA: positive.optional(),
  ...bodyTools,
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
  .regex(/^(resistor:[\d.]+|current:[\d.]+|column)$/, {
    error: 'Expected resistor:OHM, current:AMPERE or column.',
    abort: true,
  })
  .refine(
    (text) => text === 'column' || positive.safeParse(Number(text.split(':')[1])).success,
    'Expected a resistor or current above zero.',
  );

const mappedFields = ['time', 'day', 'voltage', 'group', 'tap', 'current', 'temperature', 'cycle', 'step'] as const;
/** A log is no wider. */
const mostColumns = 500;

export const logMapping = z.object({
  separator: z.string().length(1).optional().describe('Of a text table.'),
  sheet: z.string().max(100).optional().describe('Of a workbook; else the first that is seen.'),
  headingRows: z.number().int().min(0).max(20).describe('Rows before the first sample.'),
  columns: z
    .array(
      z
        .object({
          index: z.number().int().min(0).max(mostColumns).describe('Place in the row, from 0.'),
          field: z
            .enum(mappedFields)
            .describe('day: the date beside a clock; tap: a voltage against the negative terminal.'),
          position: z
            .number()
            .int()
            .min(1)
            .max(1000)
            .optional()
            .describe('Of a group or tap, from the negative terminal.'),
          unit: z.string().max(20).describe('Such as s, ms, min, h, d, v, mv, a, ma, c.'),
        })
        .refine(
          ({ field, unit }) => field === 'day' || unitsOf(field === 'tap' ? 'group' : field)[unit] !== undefined,
          { path: ['unit'], error: 'This is no unit of such a column.' },
        ),
    )
    .min(1)
    .max(mostColumns),
  intervalS: z
    .number()
    .positive()
    .max(most)
    .optional()
    .describe('From sample to sample, where there is no time column.'),
});

const mappingParameter = z
  .string()
  .max(20_000)
  .transform((text, context): unknown => {
    try {
      return JSON.parse(text);
    } catch {
      context.addIssue({ code: 'custom', message: 'Expected a mapping as JSON.' });
      return z.NEVER;
    }
  })
  .pipe(logMapping)
  .optional()
  .describe('What its columns are, as JSON: see the request of /api/v1/runs/{id}/layouts.');

export const dischargeQuery = z.object({
  load: loadParameter,
  cutoffV: numberText(
    z
      .number()
      .min(1 / most)
      .max(most),
  ).optional(),
  cutoffPerGroupV: numberText(
    z
      .number()
      .min(1 / most)
      .max(most),
  )
    .optional()
    .describe('Of a log with a column for each group: the first group below it ends the discharge.'),
  seriesCells: countText(z.number().min(1).max(1000)).default(1),
  chemistry: z
    .enum(chemistryKeys)
    .optional()
    .describe('Where the log ends above its cut-off, what it would have given is then estimated.'),
  ...toolFields(numberText(z.number().min(0).max(most)), numberText(z.number().min(0).max(1))),
  voltageResolutionV: numberText(
    z
      .number()
      .min(1 / most)
      .max(most),
  )
    .optional()
    .describe('Last digit of the logged voltage; taken from its digits where it is missing.'),
  mapping: mappingParameter,
});

const quantity = z.object({ value: z.number(), u: z.number() });
const atHorizons = z.partialRecord(z.enum(['0.1s', '1s', '10s', '30s']), z.number());
const relaxation = z.object({
  ohmicOhm: quantity.nullable().describe('What answers at once; null where the log is too coarse.'),
  stages: z.array(z.object({ fromS: z.number(), toS: z.number(), resistanceOhm: quantity })),
  branches: z.array(z.object({ resistanceOhm: quantity, timeConstantS: quantity })),
  residualOhm: z.number(),
});

export const segmentsResponse = z.array(
  z.object({
    kind: z.enum(['rest', 'discharge', 'charge']),
    mode: z
      .enum(['constant-current', 'constant-voltage', 'resistor', 'power', 'pulse', 'other'])
      .describe('What was held.'),
    fromS: z.number(),
    toS: z.number(),
    chargeAh: z.number(),
    energyWh: z.number(),
    startVoltageV: z.number(),
    endVoltageV: z.number(),
    cycle: z.number().optional().describe('As the device numbered it.'),
    step: z.number().optional(),
  }),
);

export const groupsAtEndResponse = z
  .array(
    z.object({
      position: z.number().describe('From the negative terminal, 1 first.'),
      endVoltageV: z.number(),
      reachedCutoff: z.boolean().nullable(),
      leftAh: z
        .number()
        .nullable()
        .describe('What it could still have delivered; null where the log does not show it.'),
      standardUncertaintyAh: z.number().nullable(),
    }),
  )
  .nullable()
  .describe('As the discharge ended; null where no groups were logged.');

const measured = z.object({ value: z.number(), standardUncertainty: z.number() }).nullable();

export const dischargeResponse = z.object({
  samples: z.number(),
  durationS: z.number(),
  capacityAh: z.number(),
  energyWh: z.number(),
  meanVoltageV: z.number(),
  meanCurrentA: z.number(),
  endVoltageV: z.number(),
  reachedCutoff: z.boolean().nullable().describe('False: the capacity is a lower bound.'),
  estimatedCapacityAh: measured
    .optional()
    .describe('Of a log that ended above its cut-off, with a chemistry: an estimate from its open-circuit curve.'),
  course: z
    .object({ by: z.enum(['rests', 'slow']), points: z.array(z.array(z.number())), currentA: z.number() })
    .nullable()
    .describe('[Ah, V] from full to the cut-off, where it was slow or rested enough to show the open-circuit voltage.'),
  standardUncertaintyAh: z.number(),
  budget: z.array(z.object({ input: z.string(), uAh: z.number() })),
  fromS: z.number().describe('When the load came on; what came before is not counted.'),
  toS: z.number().describe('Up to when it was counted.'),
  columns: z.record(
    z.string(),
    z.object({ index: z.number(), heading: z.string(), unit: z.string(), assumed: z.boolean() }),
  ),
  groups: groupsAtEndResponse,
  gaps: z.array(z.object({ fromS: z.number(), toS: z.number() })),
  steps: z.array(
    z.object({
      atS: z.number(),
      deltaCurrentA: z.number(),
      fromV: z.number(),
      resistanceOhm: atHorizons,
      standardUncertaintyOhm: atHorizons,
      currentRelativeU: z.number(),
      unsettled: z.array(z.string()),
      relaxation: relaxation.nullable(),
    }),
  ),
  segments: segmentsResponse,
  wild: z.array(z.object({ timeS: z.number(), voltageV: z.number() })).describe('Samples left out; the first of them.'),
  warnings,
});

export const partialCapacityRequest = z.object({
  chemistry: rechargeable,
  startVoltagesV: z.array(figure).min(1).max(1000),
  chargeAh: positive,
  endVoltageV: figure.optional(),
  chargeAccuracyShare: z
    .number()
    .min(0)
    .max(1)
    .optional()
    .describe('Limit of the charge put in, a share; 0.02 is assumed, and said so, where it is missing.'),
  voltageUncertaintyV: figure.min(0).optional(),
  balanced: z.boolean().optional().describe('Whether the charger balanced the groups as it filled them.'),
});

export const partialCapacityResponse = z.object({
  startSoc: z.number(),
  capacityAh: z.number(),
  standardUncertaintyAh: z.number(),
  perCell: z.array(z.object({ startSoc: z.number(), capacityAh: z.number(), standardUncertaintyAh: z.number() })),
  warnings,
});

export const selfDischargeRequest = z.object({
  chemistry: z.enum(chemistryKeys),
  subjects: z
    .array(
      z.object({
        id: z.string().min(1).max(100),
        ratedCapacityAh: positive.optional(),
        chargedAt: momentText()
          .optional()
          .describe('When it was charged last: readings within a day after that are not settled.'),
        readings: z
          .array(z.object({ at: momentText(), voltageV: figure }))
          .max(1000)
          .describe('After a full charge and a day of settling; of a pack a group each.'),
      }),
    )
    .min(1)
    .max(1000),
  voltageUncertaintyV: positive
    .optional()
    .describe('Standard uncertainty of a reading against another of the same meter; 0.0005 is assumed, and said so.'),
});

export const selfDischargeResponse = z.object({
  subjects: z.array(
    z.object({
      id: z.string(),
      driftVPerDay: z.number().nullable().describe('Negative where it falls; null where it is not known.'),
      standardUncertaintyVPerDay: z.number().nullable(),
      selfDischargeA: z
        .number()
        .optional()
        .describe('For lithium with a given capacity, from the curve of its chemistry.'),
      standardUncertaintySelfDischargeA: z.number().optional(),
      outlier: z.boolean(),
      verdict: z.enum(['holds', 'leaks', 'cannot-tell']),
      why: z.string(),
      whyCode: z.string(),
    }),
  ),
  warnings,
});

const groupVoltage = z.number().min(-10).max(100);
/** Hardly any visit is longer, and more would keep the others waiting. */
const [mostGroups, mostRounds] = [40, 20];

export const diagnoseRequest = z
  .object({
    chemistry: rechargeable,
    series: z.number().int().min(1).max(mostGroups),
    ratedCapacityAh: positive,
    reason: z
      .enum(visitReasons)
      .default('routine')
      .describe('Why the pack is measured: how likely a sound pack is depends on it.'),
    rounds: z
      .array(
        z.object({
          state: z.enum(packStates).exclude(['after-use']),
          at: momentText().optional(),
          currentA: z.number().min(-most).max(most).optional().describe('Positive when the pack is discharging.'),
          restS: z.number().min(0).max(most).optional(),
          sinceChargeS: z.number().min(0).max(most).optional().describe('Since a charge ended; left out: not known.'),
          groupVoltagesV: z
            .array(groupVoltage.nullable())
            .min(1)
            .max(mostGroups)
            .describe('From the negative terminal; null where a group was not read.'),
          terminalVoltageV: z.number().min(-most).max(most).optional(),
          groupResistancesOhm: z.array(positive.nullable()).max(mostGroups).optional(),
          instrument: z.string().max(100).optional(),
        }),
      )
      .min(1)
      .max(mostRounds),
  })
  .check(({ value: { series, rounds }, issues }) => {
    rounds.forEach(({ groupVoltagesV, groupResistancesOhm }, i) => {
      for (const [name, list] of Object.entries({ groupVoltagesV, groupResistancesOhm }))
        if (list && list.length !== series)
          issues.push({
            code: 'custom',
            input: list,
            path: ['rounds', i, name],
            message: `The pack has ${series} groups; here are ${list.length} figures.`,
          });
    });
  });

const probability = z.number().min(0).max(1);
const finding = z.object({ fault: z.enum(packFaults), probability, evidence: z.array(z.string()) });

export const diagnoseResponse = z.object({
  questions: z
    .array(z.object({ round: z.int(), code: z.enum(roundQuestions), message: z.string() }))
    .describe('Rounds, by their place from 0, that look mislabelled: settle these before a group is accused.'),
  groups: z.array(
    z.object({
      position: z.number().describe('From the negative terminal.'),
      stateOfCharge: z.number().nullable().describe('At the newest rest, as it was read.'),
      findings: z.array(finding).describe('Each fault with the probability of its being there; several may be high.'),
    }),
  ),
  pack: z.object({ findings: z.array(finding) }),
  nextMeasurement: z.object({ what: z.string(), why: z.string() }),
  warnings,
});

export const rebalanceRequest = z.object({
  chemistry: rechargeable,
  groups: z
    .array(
      z
        .object({
          stateOfCharge: z.number().min(0).max(1).optional(),
          restVoltageV: groupVoltage.optional().describe('Or this: read after a rest.'),
          capacityAh: positive,
          resistanceOhm: positive.optional().describe('After ten seconds.'),
        })
        .refine(({ stateOfCharge, restVoltageV }) => (stateOfCharge === undefined) !== (restVoltageV === undefined), {
          message: 'Give either stateOfCharge or restVoltageV.',
        }),
    )
    .min(2)
    .max(mostGroups)
    .describe('From the negative terminal.'),
  charger: z.object({
    currentA: positive,
    bleedA: z.number().min(0).max(100).describe('Through one resistor at the end of a charge; 0: it does not balance.'),
    timerS: positive.optional(),
  }),
  connector: z
    .enum(['balance', 'taps', 'none'])
    .optional()
    .describe('How a group is reached: a balance connector (where left out), taps of its own, or clips on its cells.'),
  topUpCurrentA: positive
    .optional()
    .describe('0.5 where left out; through a balance connector more than 1 is taken as 1.'),
  drainCurrentA: positive.optional().describe('0.1 where left out.'),
});

const hoursOrNever = z.number().nullable().describe('Null where it takes longer than four days.');
export const rebalanceResponse = z.object({
  remedies: z.array(
    z.object({
      kind: z.enum(remediesAlone),
      hours: hoursOrNever.describe('Until the groups are level; for bleed with the charge it happens in.'),
      attendedHours: hoursOrNever,
      movedAh: z.number().describe('Through the bleed resistors, into the low groups or out of the high ones.'),
      possible: z.boolean().describe('Every group stays within its limits, and can be reached.'),
      why: z.string().describe('Why it is not possible; empty where it is.'),
      highestGroupV: z.number(),
      lowestGroupV: z.number().describe('At rest afterwards.'),
      lowestStateOfCharge: z.number().describe('Of any group afterwards; below 0 where it would be emptied.'),
      timerEndsIt: z.boolean(),
      steps: z.array(z.string()),
      cautions: z.array(z.string()),
    }),
  ),
  recommended: z.enum([...remediesAlone, 'none']),
  why: z.string(),
});

const rulesChanged = z
  .partialRecord(z.enum(ruleKeys), z.number())
  .superRefine((rules, context) => {
    for (const key of ruleKeys) {
      const { least, most: top } = ruleBook[key];
      const value = rules[key];
      if (value !== undefined && (value < least || value > top))
        context.addIssue({ code: 'custom', path: [key], message: `From ${least} to ${top}.` });
    }
  })
  .optional()
  .describe('Of the house; those left out are the preset Workshop’s.');

const chargerSheetPack = z
  .object({
    chemistry: z.enum(chemistryKeys),
    series: z.int().min(1).max(mostGroups),
    capacityAh: positive,
    measuredVoltageV: z.number().min(0).max(1000).optional().describe('At its terminals, at rest.'),
    groupVoltagesV: z
      .array(groupVoltage)
      .min(1)
      .max(mostGroups)
      .optional()
      .describe('From the negative terminal, at rest.'),
    counted: z.boolean().optional().describe('Its groups were counted, at the balance plug or opened.'),
    labelRead: z.boolean().optional().describe('Its chemistry was read on its label or its cells.'),
    rescues: z.int().min(0).max(100).optional().describe('So far; 0 where left out.'),
    groupResistancesOhm: z
      .array(positive)
      .min(1)
      .max(mostGroups)
      .optional()
      .describe('After ten seconds, from the negative end.'),
    groupCapacitiesAh: z.array(positive).min(1).max(mostGroups).optional().describe('From the negative end.'),
    balanceConnector: z.boolean().optional().describe('With one, each group is measured before a charge.'),
    labelChargeA: positive.optional().describe('The most that its label allows.'),
    labelDischargeA: positive.optional().describe('The most that its label allows.'),
  })
  .superRefine(({ series, groupResistancesOhm, groupCapacitiesAh }, context) => {
    for (const [path, of] of Object.entries({ groupResistancesOhm, groupCapacitiesAh }))
      if (of && of.length !== series)
        context.addIssue({ code: 'custom', path: [path], message: `One for each of the ${series} groups.` });
  });

export const chargerSheetRequest = z.object({
  pack: chargerSheetPack,
  charger: z.object({
    maxA: positive,
    maxW: positive.describe('A charger of 0 W charges nothing.'),
    dischargeMaxW: z.number().min(0).max(1e6).describe('0: it cannot discharge.'),
    stepA: z.number().min(0).max(100).describe('0: it takes any current.'),
    bleedA: z.number().min(0).max(100).optional(),
    plugA: positive.optional().describe('Of one that charges through the balance connector, so much.'),
    balances: z.boolean().optional(),
    lowestPackV: z.number().min(0).max(1000).optional().describe('Below this it does not recognise a pack.'),
    balanceChannels: z.int().min(1).max(mostGroups).optional().describe('Groups that it can balance.'),
  }),
  goal: z.enum(sheetGoals),
  wantedCurrentA: positive.optional().describe('Less than the limits allow. Nickel may be charged quickly by it.'),
  cutoffPerGroupV: groupVoltage.optional().describe('Up to, or down to, within the limits.'),
  untilChargeAh: positive.optional().describe('It stops once so much went in or out.'),
  rules: rulesChanged,
});

const sheetStep = z.object({
  kind: z.enum(['charge', 'discharge', 'rest']),
  currentA: z.number(),
  untilV: z.number().nullable().describe('Of the whole; null of a rest, and of what ends by the charge put in.'),
  chargeAh: z.number(),
  minutes: z.number(),
});

export const chargerSheetResponse = z.union([
  z.object({ allowed: z.literal(false), code: z.string(), why: z.string() }),
  z.object({
    allowed: z.literal(true),
    limitedBy: z.enum(['house', 'label', 'charger', 'power', 'weakest-group', 'gentle-start', 'wanted']),
    forecast: z
      .object({
        afterMinuteV: z.number(),
        endRestV: z.number().describe('After a rest.'),
        chargeAh: z.number().describe('Through the main leads.'),
        minutes: z.number(),
        standardUncertaintyMin: z.number(),
      })
      .describe('Of the first part that charges or discharges, of the whole.'),
    settings: z.object({
      mode: z.string(),
      cells: z.number().describe('In series.'),
      currentA: z.number().describe('Of the first step that charges or discharges.'),
      chargeCurrentA: z.number().nullable(),
      dischargeCurrentA: z.number().nullable(),
      endVoltageV: z.number().describe('Of the whole, as that step ends.'),
      timerMin: z.number(),
      capacityLimitAh: z.number(),
      temperatureLimitC: z.number(),
      dischargeEndV: z.number().optional().describe('Of the whole.'),
      restMin: z.number().optional(),
      cycles: z.number().optional(),
    }),
    steps: z.array(sheetStep),
    expectedMin: z.number(),
    attendedMin: z.number(),
    look: z.array(z.string()).describe('What to see when it is right: at the start, after a minute, at the end.'),
    after: z.string(),
    cautions: z.array(z.string()),
  }),
]);

const moment = momentText();
const named = z.string().min(1).max(60);
const mostJobs = 1000;

export const scheduleRequest = z
  .object({
    from: moment.describe('When the plan begins.'),
    attended: z
      .array(z.object({ from: moment, to: moment }))
      .max(200)
      .describe('Attended hours.'),
    stations: z
      .array(z.object({ id: named, kinds: z.array(named).max(30) }))
      .min(1)
      .max(50),
    jobs: z
      .array(
        z.object({
          id: named,
          kind: named,
          minutes: z.number().min(0.1).max(1e5),
          attended: z.boolean().describe('The whole job is within attended hours.'),
          after: z.array(named).max(50).optional().describe('These are done before.'),
          restMin: z.number().min(0).max(1e5).optional().describe('How long after those ended, min; 0 where left out.'),
          due: moment.optional().describe('Wanted by then.'),
        }),
      )
      .max(mostJobs),
  })
  .superRefine(({ attended, stations, jobs }, context) => {
    const spans = attended.map(({ from, to }, i) => ({ from: Date.parse(from), to: Date.parse(to), i }));
    for (const { from, to, i } of spans)
      if (to <= from)
        context.addIssue({ code: 'custom', path: ['attended', i, 'to'], message: 'It ends before it begins.' });
    const inTime = spans.toSorted((a, b) => a.from - b.from);
    inTime.forEach((span, k) => {
      const before = inTime[k - 1];
      if (before && span.from < before.to)
        context.addIssue({ code: 'custom', path: ['attended', span.i, 'from'], message: 'It overlaps another.' });
    });
    for (const [name, list] of Object.entries({ stations, jobs }))
      list.forEach(({ id }, i) => {
        if (list.findIndex((one) => one.id === id) < i)
          context.addIssue({ code: 'custom', path: [name, i, 'id'], message: `There is another "${id}".` });
      });
  });

export const scheduleResponse = z.object({
  plan: z.array(z.object({ id: z.string(), station: z.string(), from: z.string(), to: z.string() })),
  endsAt: z.string(),
  bound: z.string().describe('No plan of these jobs ends before that.'),
  proven: z.boolean().describe('It ends at the bound.'),
  unplaced: z.array(z.object({ id: z.string(), code: z.string(), why: z.string() })),
});

export const ageingRequest = z.object({
  asNewCapacityAh: positive.optional().describe('Left out, the first run is taken as new, and that is said.'),
  runs: z
    .array(
      z.object({
        cycle: z.number().min(0).max(1e6).optional(),
        at: momentText().optional(),
        capacityAh: positive,
        standardUncertaintyAh: positive.optional(),
        rateC: positive.optional(),
        temperatureC: figure.optional(),
        endV: positive.optional().describe('Where the discharge ended, V a group. Other ends are another trend.'),
      }),
    )
    .min(1)
    .max(10_000),
  price: positive.optional(),
});

const crossingPlace = z.union([z.number(), z.string()]);
export const ageingResponse = z.object({
  healthNow: z.number(),
  standardUncertaintyHealth: z.number().nullable(),
  trend: z.object({
    perCycle: z.number().optional(),
    standardUncertaintyPerCycle: z.number().optional(),
    perYear: z.number().optional(),
    standardUncertaintyPerYear: z.number().optional(),
    bend: z.enum(['straight', 'speeds-up', 'slows-down']).optional(),
  }),
  crossings: z.array(
    z.object({
      health: z.number(),
      cycle: z.number().optional(),
      at: z.string().optional(),
      from95: crossingPlace.describe('In cycles where these are known, else a date.'),
      to95: crossingPlace.nullable().describe('Null where it may never come.'),
    }),
  ),
  costPerCycle: z.number().optional().describe('Over the cycles until it crosses 70 %.'),
  costPerCycle95: z.tuple([z.number(), z.number()]).optional().describe('From 0 where it may never cross.'),
  costPerCycleSoFar: z.number().optional(),
  warnings,
});

export const matchRequest = z.object({
  series: z.int().min(1).max(100),
  parallel: z.int().min(1).max(100),
  cells: z
    .array(
      z.object({
        id: z.string().min(1).max(100),
        capacityAh: positive,
        resistanceOhm: positive,
        voltageV: figure.optional(),
        bond: z.string().max(100).optional(),
        model: z.string().max(100).optional(),
        standardUncertaintyAh: z
          .number()
          .min(0)
          .max(1e4)
          .optional()
          .describe('Of its capacity: groups are not balanced closer than their uncertainty.'),
      }),
    )
    .max(2000),
  pins: z
    .array(z.object({ cell: z.string().min(1).max(100), group: z.int().min(1).max(100).optional() }))
    .max(2000)
    .optional()
    .describe('Cells that must be in the pack, in that group where one is given.'),
  rules: z
    .object({
      joinWithinV: positive.optional(),
      enoughAh: positive.optional(),
      sharingTimes: positive.optional().describe('The largest resistance of a group against its smallest.'),
      groupsApartShare: positive.optional(),
      modelsInPack: z
        .int()
        .min(1)
        .max(100)
        .optional()
        .describe('Each group has cells of one model; this many models together.'),
    })
    .optional(),
});

export const matchResponse = z.object({
  groups: z.array(z.object({ cells: z.array(z.string()), capacityAh: z.number(), resistanceOhm: z.number() })),
  packCapacityAh: z.number(),
  possibleAh: z
    .number()
    .describe('The strongest weakest group that was found: more than packCapacityAh only by less than is known of it.'),
  upperBoundAh: z.number().describe('No arrangement has a stronger weakest group; it knows the bonds.'),
  gap: z.number(),
  spread: z.number().describe('(strongest − weakest group) / weakest group'),
  proven: z.boolean(),
  left: z.array(z.string()),
  warnings,
});

const mostRunCells = 2000;
const packRunCell = z
  .object({
    capacityAh: positive,
    stateOfCharge: z.number().min(0).max(1).optional().describe('1 where left out.'),
    resistanceOhm: positive.optional().describe('The ten-second figure.'),
    selfDischargeA: z.number().min(-1).max(1).optional().describe('Its self-discharge current from a test.'),
    ohmicOhm: positive.optional(),
    branches: z
      .array(z.object({ resistanceOhm: positive, timeConstantS: positive }))
      .max(8)
      .optional(),
  })
  .refine(
    ({ resistanceOhm, ohmicOhm, branches }) =>
      (resistanceOhm === undefined) === (ohmicOhm !== undefined && branches !== undefined),
    {
      message: 'Give either resistanceOhm, or ohmicOhm and branches.',
    },
  );
const amperes = z.number().min(0).max(1e4);

export const packRunRequest = z.object({
  chemistry: rechargeable,
  groups: z
    .array(z.array(packRunCell).min(1).max(100))
    .min(1)
    .max(100)
    .refine((groups) => groups.flat().length <= mostRunCells, `Give at most ${mostRunCells} cells in all.`)
    .describe('From the negative terminal, the cells of each.'),
  load: z.union([
    z.strictObject({ currentA: positive }),
    z.strictObject({ powerW: positive }),
    z.strictObject({
      profile: z
        .array(z.object({ forS: z.number().positive().max(864_000), currentA: amperes }))
        .min(1)
        .max(100),
    }),
  ]),
  cutoffPerGroupV: positive,
  stepS: z.number().min(0.1).max(600).optional().describe('As fine as the run is long where left out, 1 at least.'),
  cycles: z
    .object({ count: z.int().min(1).max(10_000), daysPerCycle: z.number().min(0.01).max(1000) })
    .optional()
    .describe('The number of cycles over which the groups drift, where every cell has its selfDischargeA.'),
});

const byGroupAndCell = z.array(z.array(z.number()));
export const packRunResponse = z.object({
  ends: z.enum(['cutoff', 'profile-over', 'not-carried']),
  runTimeS: z.number(),
  deliveredAh: z.number(),
  deliveredWh: z.number(),
  cellsAloneWh: z.number().describe('What the cells would have given each by itself.'),
  limitingGroup: z.int(),
  leftAh: z.array(z.number()).describe('What each group could have given yet.'),
  strandedAh: z.number().describe('The same of all groups together.'),
  groupVoltagesV: z.object({ atS: z.array(z.number()), byGroup: z.array(z.array(z.number())) }),
  currentShare: z.object({ start: byGroupAndCell, end: byGroupAndCell }),
  hottest: z.object({
    group: z.int(),
    cell: z.int(),
    heatJ: z.number(),
    riseAtMostK: z.number().describe('Were its heat not carried away.'),
  }),
  stateOfChargeLeft: byGroupAndCell,
  drift: z
    .object({
      byGroup: z.array(z.number()).describe('Without balancing, against the mean of all, a share of its charge.'),
      bledAh: z.number().describe('What balancing takes from the best group at each charge to keep all together.'),
    })
    .nullable()
    .optional()
    .describe('Null where a cell has no selfDischargeA.'),
  warnings,
});

export const healthResponse = z.object({
  status: z.enum(['ok', 'degraded']),
  database: z.enum(['ok', 'away']),
  schema: z.enum(['ok', 'behind']).describe('Whether the database has the tables of this version.'),
  version: z.string(),
});

/** A log to keep with a cell or a pack. */
export const runQuery = z.object({
  subject: z.string({ error: 'Give subject=CODE, of a cell or a pack.' }).min(1).toUpperCase(),
  load: loadParameter,
  loadTolerance: numberText(z.number().min(0).max(1), 'Expected a fraction, such as 0.01.')
    .optional()
    .describe('Limit of the resistor or of the set current, a share.'),
  logger: z.string().toUpperCase().max(40).optional().describe('Code of the instrument that logged it.'),
  endedAt: momentText()
    .optional()
    .describe('When the log ended. Left out, its own dates count; a log without dates is refused.'),
  groups: z
    .enum(['from-black', 'from-red'])
    .optional()
    .describe('At which terminal the columns of groups begin. Where they look reversed, leaving this out gives 409.'),
  mapping: mappingParameter,
  keepMappingAs: z
    .string()
    .trim()
    .min(1)
    .max(60)
    .optional()
    .describe('Keeps that mapping under a name, for the next file of this shape.'),
  fileName: z.string().max(200).default('log.csv'),
});

export const samplesQuery = z.object({
  as: z.enum(['json', 'csv', 'parquet']).default('json').describe('All samples as csv or parquet; a stretch as json.'),
  fromS: numberText(z.number().min(0)).default(0),
  toS: numberText(z.number().min(0)).optional(),
  points: countText(z.number().min(1).max(5000))
    .default(400)
    .describe('How many stretches of equal time are shown, each with its highest and lowest value.'),
});

const columnOfNumbers = z.array(z.number().nullable());
export const samplesResponse = z.object({
  timeS: z.array(z.number()),
  voltageV: z.array(z.number()),
  currentA: columnOfNumbers.nullable(),
  temperatureC: columnOfNumbers.nullable(),
  groupsV: z.array(columnOfNumbers).nullable().describe('Of each group, from the negative terminal.'),
  cycle: columnOfNumbers.nullable().describe('As the device numbered them.'),
  step: columnOfNumbers.nullable(),
});

export const runInFull = z.object({
  id: z.number(),
  entry: z.string().describe('What to void it by.'),
  subject: z.string(),
  subjects: z.array(z.string()).describe('With those welded to it.'),
  series: z.number().describe('Cells or groups in series.'),
  fileName: z.string(),
  endedAt: z.string(),
  voidReason: z.string().nullable(),
  load: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('resistor'), resistanceOhm: z.number() }),
    z.object({ kind: z.literal('current'), currentA: z.number() }),
    z.object({ kind: z.literal('column') }),
  ]),
  loadTolerance: z.number().nullable(),
  logger: z.string().nullable(),
  mapping: logMapping.nullable().describe('As given by a person.'),
  columns: z.array(
    z.object({
      field: z.string(),
      position: z.number().optional(),
      index: z.number(),
      heading: z.string(),
      unit: z.string(),
    }),
  ),
  samples: z.number(),
  cutoffPerGroupV: z.number(),
  capacityAh: z.number(),
  standardUncertaintyAh: z.number(),
  energyWh: z.number(),
  meanCurrentA: z.number(),
  meanVoltageV: z.number(),
  durationS: z.number(),
  reachedCutoff: z.boolean().nullable(),
  groups: groupsAtEndResponse,
  segments: segmentsResponse,
  warnings,
});

export const layoutRequest = z.object({
  load: loadParameter.describe('As of /api/v1/runs.'),
  loadTolerance: z.number().min(0).max(1).nullable().default(null),
  mapping: logMapping.nullable().default(null).describe('Null: as the file says.'),
  groups: z.enum(['from-black', 'from-red']).nullable().default(null),
});

export const namedMappingsResponse = z.object({
  mappings: z.array(z.object({ name: z.string(), shape: z.string(), mapping: logMapping })),
});

export const runResponse = z.object({
  id: z.number(),
  subject: z.string(),
  samples: z.number(),
  capacityAh: z.number(),
  standardUncertaintyAh: z.number(),
  reachedCutoff: z.boolean().nullable(),
  groups: groupsAtEndResponse,
  warnings,
});

export const subjectsQuery = z.object({
  kind: z.enum(['cell', 'pack']).optional(),
  code: z.string().max(20).toUpperCase().optional().describe('That one alone.'),
  batch: z.string().max(10).toUpperCase().optional().describe('The cells of that batch.'),
  after: z.string().max(20).toUpperCase().optional().describe('Those behind that code: how to go on.'),
  limit: countText(z.number().min(1).max(1000)).default(100),
});

const ofEverySubject = {
  code: z.string(),
  chemistry: z.enum(chemistryKeys),
  series: z.number(),
  ratedCapacityAh: z.number(),
  intake: z.enum(['usable', 'rescue-only', 'out']).nullable(),
  standing: z.enum(statuses),
  capacityAh: measured,
  capacityIsAtLeast: z.boolean(),
  capacityBy: z.enum(['discharge', 'partial', 'noted']).nullable().describe('The source of its capacity.'),
  hold: z
    .object({ verdict: z.enum(['holds', 'leaks', 'cannot-tell']), group: z.number(), driftVPerDay: measured })
    .nullable()
    .describe('What self-discharge tests say of it; of a pack of its worst group, from the negative terminal.'),
  health: measured.describe('Fraction of its capacity when new.'),
  resistanceOhm: measured.describe('After ten seconds; of a pack that of its weakest group.'),
  says: z.array(z.string()).describe('What the house rules say, in words.'),
};

/** A cell or a pack with what is known and said of it. */
export const subjectOf = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('cell'),
    ...ofEverySubject,
    batch: z.string(),
    model: z.string(),
    restVoltageV: z.number().nullable(),
    weldedTo: z.array(z.string()),
    pack: z.object({ code: z.string(), position: z.number() }).nullable(),
  }),
  z.object({
    kind: z.literal('pack'),
    ...ofEverySubject,
    name: z.string(),
    parallel: z.number(),
    cycles: z.number().nullable(),
    twins: z.array(z.string()),
    build: z.number().nullable(),
    takenApartAt: z.string().nullable(),
    wantsAHand: z.boolean(),
    groups: z
      .array(
        z.object({
          position: z.number(),
          voltageV: z.number().nullable().describe('Of its newest round.'),
          resistanceOhm: measured,
          resistanceIs: z.enum(['even', 'watch', 'failing']).nullable(),
          leftAh: measured.describe('When its discharge ended.'),
        }),
      )
      .describe('From the negative terminal.'),
  }),
]);

export const subjectsResponse = z.object({
  subjects: z.array(subjectOf),
  after: z.string().nullable().describe('Ask again with this for those that follow; null where these were all.'),
  stillJudging: z.boolean().describe('A start or other rules: more cells will come.'),
});

/** A number, or its digits as text where the last of them must count: "4.140". */
const digits = z.union([
  z.number(),
  z.string().regex(/^-?\d{1,9}(\.\d{1,9})?$/, 'Expected a figure, such as "4.140".'),
]);

/** What was read of a cell or a pack, field by field, in SI units. */
export const readingRequest = z.strictObject({
  subject: z.string().min(1).max(40).optional().describe('Code of a cell or a pack; of welded cells "S1-004+005".'),
  voltageV: digits.optional().describe('Of a cell; in a round with a meter that beside its resistance.'),
  massKg: digits.optional(),
  temperatureC: digits.optional().describe('In a round of the bench; at intake of the cell, on its skin.'),
  findings: z.array(z.enum(inspectionKeys)).max(20).optional().describe('Empty: looked at, nothing found.'),
  groupVoltagesV: z
    .array(digits.nullable())
    .min(1)
    .max(100)
    .optional()
    .describe('From the negative terminal; null where a wire is broken.'),
  terminalVoltageV: digits.optional().describe('Beside the voltages of groups.'),
  cycles: z.int().min(0).max(100_000).optional().describe('So far.'),
  servedS: z.number().min(1).max(599_999).optional().describe('For how long a pack served in its usual use.'),
  group: z
    .int()
    .min(1)
    .max(100)
    .optional()
    .describe('In a round: the group that was probed, from the negative terminal.'),
  resistanceOhm: digits.optional(),
  groupResistancesOhm: z.array(digits).min(1).max(100).optional().describe('From the negative terminal.'),
  wholeResistanceOhm: digits.optional().describe('Beside the resistances of groups.'),
  openVoltageV: digits.optional().describe('Before the load; where it is preloaded, under that small load.'),
  loadedVoltageV: digits.optional(),
  currentA: digits.optional().describe('Where an ammeter shows it.'),
  afterVoltageV: digits.optional().describe('The recovery voltage the load.'),
  voltageAtLowV: digits.optional(),
  lowCurrentA: digits.optional(),
  voltageAtHighV: digits.optional(),
  highCurrentA: digits.optional(),
  on: dayText().optional().describe('In a round: the day it was read, where that was not today.'),
  battery: z.int().min(1).max(100).optional().describe('On a sheet of instruments: which of its batteries.'),
  instrument: z.string().min(1).max(40).optional().describe('On a sheet: the code of what read it.'),
  channel: z.int().min(1).max(100).optional().describe('On a sheet: which of its channels alone.'),
  channelVoltagesV: z.array(digits).min(1).max(100).optional().describe('On a sheet: what each channel shows.'),
});

export const newSelfDischargeRequest = z.object({
  codes: z
    .array(z.string().min(1).max(20).toUpperCase())
    .min(1)
    .max(500)
    .describe('Of batches, cells or packs; of a batch all that are not out.'),
  days: z.number().min(1).max(60).default(7).describe('Then measure them again.'),
});
export const newSelfDischargeResponse = z.object({ id: z.number() });

export const selfDischargesResponse = z.object({
  holds: z.array(
    z.object({
      id: z.number(),
      beganAt: z.string(),
      endedAt: z.string().nullable(),
      dueAt: z.string().nullable().describe('When the next reading is due; null when the result is final.'),
      subjects: z.array(
        z.object({
          code: z.string(),
          group: z.number().describe('For a pack its group, from the negative terminal.'),
          driftVPerDay: z.number().nullable(),
          standardUncertaintyVPerDay: z.number().nullable(),
          outlier: z.boolean(),
          verdict: z.enum(['holds', 'leaks', 'cannot-tell']),
          why: z.string(),
          readAt: z.string().nullable(),
          readNow: z.boolean().describe('It is to be read now.'),
        }),
      ),
    }),
  ),
});

/** What is filed: a line in the words of the reading bars, or a reading field by field. */
export const entryRequest = z
  .strictObject({
    text: z
      .string()
      .min(1)
      .max(2000)
      .optional()
      .describe(
        'In the words of the reading bars: "S1-014 3.71 44.2g ok", "PF1 3.95 3.94 = 7.89"; with a round "PF1 8.4 9.3".',
      ),
    reading: readingRequest.optional().describe('The same, field by field.'),
    round: z.int().positive().optional().describe('The round of resistance it belongs to.'),
    sheet: z.int().positive().optional().describe('The sheet of instruments that it belongs to.'),
    hold: z.int().positive().optional().describe('The self-discharge test that it belongs to.'),
    rescue: z.boolean().optional().describe('It is of the rescue under way: every group, 24C at the skin, warm.'),
    entry: z.uuid().optional().describe('Made by the sender: sent twice it is filed once.'),
    at: momentText().optional().describe('When it was measured; left out: now. A date in the text counts before it.'),
    confirmed: z.boolean().default(false).describe('A question about it was answered with yes.'),
    state: z.enum(packStates).default('rest').describe('In which a pack was, where voltages are read.'),
    groupsWith: z.string().max(40).default('').describe('Code of the instrument that read the groups.'),
    terminalsWith: z.string().max(40).default('').describe('Code of the instrument that read the terminals.'),
    meter: z.string().max(40).default('').describe('Code of the instrument that read a cell.'),
  })
  .refine(({ text, reading }) => (text === undefined) !== (reading === undefined), {
    error: 'Give either text or reading.',
    path: ['text'],
  });

export const entryResponse = z.object({
  entry: z.string(),
  said: z.string().describe('The filed line in words.'),
});

/** The data of a message of the stream of changes; a test holds the messages against it. */
export const eventMessage = z.object({
  frame: z
    .object({
      stops: z.array(z.object({ key: z.string(), count: z.number(), hot: z.boolean() })).describe('What waits where.'),
      watch: z.array(
        z.object({
          entry: z.string().nullable(),
          code: z.string(),
          batch: z.string(),
          reason: z.enum(['charge', 'discharge']),
          seen: z.boolean(),
          dueAtMs: z.number(),
        }),
      ),
      due: z.array(z.object({ text: z.string(), atMs: z.number(), address: z.string() })),
      backupAt: z.number().nullable(),
      judging: z.object({ what: z.enum(['cells', 'runs']), done: z.number(), total: z.number() }).nullable(),
      state: z.string().describe('Two that differ belong to different states.'),
      newest: z.string().describe('The newest change. Two equal values mean that there was none between them.'),
      atMs: z.number().describe('When that was so, by the clock of the workshop, ms since 1970.'),
    })
    .nullable()
    .describe('Null while the database cannot be reached.'),
  filed: z
    .array(z.object({ entry: z.string(), codes: z.array(z.string()), roundId: z.number().nullable() }))
    .describe('What was filed since the message before.'),
  nowMs: z.number().describe('When this is sent, by the same clock.'),
});
