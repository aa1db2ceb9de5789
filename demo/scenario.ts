import { type Chemistry } from '@/core/chemistry/chemistries';
import type { Rechargeable } from '@/core/chemistry/openCircuit';
import type { InspectionFinding } from '@/core/grading/intake';
import type { JobProgram } from '@/core/planning/benchPlan';

/** The Fennel Quay lantern society, which lights a winter path along a harbour. Everything here is invented. */

export interface DemoBatch {
  code: string;
  origin: string;
  maker: string;
  model: string;
  chemistry: Extract<Chemistry, Rechargeable>;
  ratedAh: number;
  massG: number;
  count: number;
  /** Cells by place that left the factory welded together, from 1 on. */
  bondedPairs: number;
  daysAgo: number;
  /** How far the bench has come: cells read, measured for resistance, discharged. */
  read: number;
  measured: number;
  discharged: number;
  /** Worn state: mean and deviation of health, ten-second resistance when sound, Ω, and charge as it came. */
  health: [number, number];
  resistanceOhm: number;
  soc: [number, number];
  load: { method: 'resistor'; ohm: number; ratingW: number } | { method: 'ammeter'; amps: number };
  /** Rate of the test discharge, and seconds between samples. */
  rate: number;
  sampleS: number;
}

export const batches: DemoBatch[] = [
  {
    code: 'S1',
    origin: 'Rental scooters, worn packs from the ferry stand',
    maker: 'Quillon',
    model: 'Q18-25',
    chemistry: 'li-ion',
    ratedAh: 2.45,
    massG: 44.6,
    count: 72,
    bondedPairs: 0,
    daysAgo: 23,
    read: 72,
    measured: 66,
    discharged: 52,
    health: [0.87, 0.06],
    resistanceOhm: 0.0235,
    soc: [0.42, 0.06],
    load: { method: 'resistor', ohm: 1.8, ratingW: 10 },
    rate: 0.5,
    sampleS: 1,
  },
  {
    code: 'H1',
    origin: 'Hospital trolleys, packs retired by date',
    maker: 'Marrowby',
    model: 'M18-29',
    chemistry: 'li-ion',
    ratedAh: 2.85,
    massG: 46.9,
    count: 60,
    bondedPairs: 6,
    daysAgo: 16,
    read: 60,
    measured: 60,
    discharged: 44,
    health: [0.9, 0.05],
    resistanceOhm: 0.046,
    soc: [0.55, 0.04],
    load: { method: 'ammeter', amps: 1.62 },
    rate: 0.35,
    sampleS: 2,
  },
  {
    code: 'F1',
    origin: 'Loudspeaker trolley of the harbour choir',
    maker: 'Skerrin',
    model: 'F26-33',
    chemistry: 'lfp',
    ratedAh: 3.25,
    massG: 83.5,
    count: 16,
    bondedPairs: 0,
    daysAgo: 12,
    read: 16,
    measured: 16,
    discharged: 14,
    health: [0.92, 0.03],
    resistanceOhm: 0.0145,
    soc: [0.5, 0.05],
    load: { method: 'resistor', ohm: 1.2, ratingW: 15 },
    rate: 0.5,
    sampleS: 2,
  },
  {
    code: 'N1',
    origin: 'Radio blocks of the pilot boat',
    maker: 'Pellam',
    model: 'N14-19',
    chemistry: 'nimh',
    ratedAh: 1.9,
    massG: 27.3,
    count: 20,
    bondedPairs: 0,
    daysAgo: 9,
    read: 20,
    measured: 18,
    discharged: 12,
    health: [0.84, 0.08],
    resistanceOhm: 0.031,
    soc: [0.6, 0.1],
    load: { method: 'resistor', ohm: 0.82, ratingW: 5 },
    rate: 0.25,
    sampleS: 0.5,
  },
  {
    code: 'Q1',
    origin: 'Winch packs of the quay crane, found in the loft',
    maker: 'Quillon',
    model: 'Q18-25',
    chemistry: 'li-ion',
    ratedAh: 2.45,
    massG: 44.6,
    count: 40,
    bondedPairs: 0,
    daysAgo: 4,
    read: 40,
    measured: 0,
    discharged: 0,
    health: [0.9, 0.04],
    resistanceOhm: 0.0262,
    soc: [0.52, 0.03],
    load: { method: 'ammeter', amps: 2.35 },
    rate: 0.5,
    sampleS: 1,
  },
  {
    code: 'H2',
    origin: 'Hospital trolleys, second delivery',
    maker: 'Marrowby',
    model: 'M18-29',
    chemistry: 'li-ion',
    ratedAh: 2.85,
    massG: 46.9,
    count: 36,
    bondedPairs: 3,
    daysAgo: 2,
    read: 22,
    measured: 0,
    discharged: 0,
    health: [0.88, 0.06],
    resistanceOhm: 0.048,
    soc: [0.5, 0.05],
    load: { method: 'ammeter', amps: 1.62 },
    rate: 0.35,
    sampleS: 2,
  },
];

/** What makes single cells worth finding, by code. */
export interface Peculiarity {
  health?: number;
  resistanceTimes?: number;
  soc?: number;
  /** Came at this voltage, whatever its charge. */
  restV?: number;
  massG?: number;
  findings?: InspectionFinding[];
  log?: 'gap' | 'stops-early' | 'wild';
  /** What a dirty pole adds at the first press, Ω; pressed again it is gone. */
  contactOhm?: number;
}

export const peculiar: Record<string, Peculiarity> = {
  'S1-007': { findings: ['dented'] },
  'S1-013': { restV: 2.214 },
  'S1-019': { massG: 22.4 },
  'S1-026': { resistanceTimes: 2.6 },
  'S1-031': { health: 0.61 },
  'S1-038': { restV: 0.87 },
  'S1-044': { log: 'gap' },
  'S1-051': { findings: ['leaking', 'rust'] },
  'H1-015': { health: 0.55, resistanceTimes: 1.7 },
  'H1-022': { resistanceTimes: 2.9 },
  'H1-030': { log: 'stops-early' },
  'H1-033': { contactOhm: 0.031 },
  'H1-037': { log: 'wild' },
  'H1-041': { resistanceTimes: 2.4 },
  'H1-052': { findings: ['wrap'] },
  'F1-009': { health: 0.74 },
  'N1-004': { health: 0.42 },
  'N1-016': { restV: 0.611 },
  'Q1-006': { resistanceTimes: 2.3 },
  'Q1-017': { contactOhm: 0.024 },
  'Q1-023': { resistanceTimes: 3.1 },
  'Q1-031': { resistanceTimes: 1.9 },
  'H2-008': { restV: 2.463 },
  'H2-017': { findings: ['rust'] },
};

/** The pouch pack that was partly charged. */
export const partial = { code: 'PK5', daysAgo: 2, startSoc: 0.21 };

/** What the society wants done next, and the attended evenings: hours from now. */
export const wantedNext: { codes: string[]; course: JobProgram; byH?: number }[] = [
  { codes: ['PL1'], course: 'resistance' },
  { codes: ['PK5'], course: 'full', byH: 27 },
  { codes: ['PG1'], course: 'balance' },
  { codes: ['PT1', 'PR1'], course: 'storage' },
  { codes: ['S1-014', 'S1-015', 'S1-016'], course: 'capacity' },
  { codes: ['PH2'], course: 'hold' },
];
export const evenings: [fromH: number, toH: number][] = [
  [0, 4],
  [24, 28.5],
  [48, 52],
];

/** Who was put to rest together for a self-discharge test. */
export interface DemoSelfDischarge {
  codes: string[];
  daysAgo: number;
  /** Days after its begin when all were read. */
  readAt: number[];
  /** Volts that a sound one loses in a week. */
  perWeekV: number;
  /** Those that lose more, by code; of a pack its group from the negative terminal. */
  leaky: Record<string, { perWeekV: number; position?: number }>;
}

export const selfDischarges: DemoSelfDischarge[] = [
  {
    codes: ['001', '002', '003', '004', '005', '006', '008', '009', '010', '011', '012', '014'].map((n) => `S1-${n}`),
    daysAgo: 9,
    readAt: [0, 7],
    perWeekV: 0.0016,
    leaky: { 'S1-009': { perWeekV: 0.046 } },
  },
  { codes: ['PK5', 'PL1', 'PT1'], daysAgo: 6.7, readAt: [0], perWeekV: 0.002, leaky: {} },
];

export interface DemoPack {
  code: string;
  name: string;
  chemistry: Rechargeable;
  series: number;
  parallel: number;
  ratedAh: number;
  board: 'full' | 'protects' | 'none';
  balanceConnector: boolean;
  findings: InspectionFinding[];
  /** Cycles when it was taken in. */
  cycles: number;
  /** How it was when new, where a person noted it; resistances of its groups, Ω. */
  asNew?: { daysAgo: number; capacityAh: number; price: number; resistancesOhm: number[] | null };
  /** What a charger reported of its groups over its seasons, where a person wrote that down. */
  ageing?: DemoAgeing;
  /** For how long it served in its usual use, where a person timed that. */
  served?: { daysAgo: number; minutes: number }[];
  /** Its test discharge and a load over its terminals, where a person took the time. */
  discharge?: DemoPackDischarge;
  rounds: DemoPackRound[];
}

export interface DemoPackDischarge {
  daysAgo: number;
  /** 1/h. */
  rate: number;
  /** What each group holds now, a share of the rating. */
  health: number[];
  /** Charge of each group as it begins; all full where it is left out. */
  soc?: number[];
  /** Logged group by group, or the terminals alone. */
  logged: 'groups' | 'terminals';
  /** Discharges of earlier seasons, the same way: what it held then, times what it holds now. */
  earlier?: { daysAgo: number; times: number }[];
}

/** The resistances of a pack's groups over the years. */
export interface DemoAgeing {
  /** Of each group at the first charge of the first season, Ω. */
  firstOhm: number[];
  /** Share by which every group rises in a year. */
  perYear: number;
  /** The group that goes its own way, and how much of itself it gains in a year beside. */
  weak?: { position: number; perYear: number };
  /** Without a balance connector the charger reports the whole alone. */
  whole?: boolean;
}

/** Days of the charges that were written down: three winters, six charges each, the oldest first. */
export const chargeDays: number[] = [2, 1, 0].flatMap((winters) =>
  [105, 84, 63, 42, 21, 0].map((days) => 16 + 365 * winters + days),
);

/** Packs that were bought and used together. */
export const twins: string[][] = [['PL1', 'PL2']];

export interface DemoPackRound {
  daysAgo: number;
  /** State of charge of each group, or one for all. */
  soc: number | number[];
  terminals: boolean;
  /** Reads each group through its own divider: offsets by channel, V. */
  channelOffsetsV?: number[];
  /** The code of what its groups are read with; the terminals are read with the bench meter. */
  instrument: string;
}

export const packs: DemoPack[] = [
  {
    code: 'PL1',
    name: 'Path lantern, north steps',
    chemistry: 'li-ion',
    series: 2,
    parallel: 2,
    ratedAh: 5.2,
    board: 'full',
    balanceConnector: true,
    findings: [],
    cycles: 88,
    asNew: { daysAgo: 1160, capacityAh: 5.3, price: 31, resistancesOhm: [0.0262, 0.0258] },
    ageing: { firstOhm: [0.0268, 0.0263], perYear: 0.05 },
    discharge: {
      daysAgo: 13,
      rate: 0.4,
      health: [0.93, 0.9],
      logged: 'groups',
      earlier: [
        { daysAgo: 1105, times: 1.107 },
        { daysAgo: 838, times: 1.081 },
        { daysAgo: 740, times: 1.068 },
        { daysAgo: 473, times: 1.041 },
        { daysAgo: 376, times: 1.036 },
        { daysAgo: 108, times: 1.008 },
      ],
    },
    rounds: [{ daysAgo: 6, soc: [0.93, 0.925], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PL2',
    name: 'Path lantern, slipway',
    chemistry: 'li-ion',
    series: 2,
    parallel: 2,
    ratedAh: 5.2,
    board: 'protects',
    balanceConnector: true,
    findings: [],
    cycles: 91,
    asNew: { daysAgo: 1160, capacityAh: 5.3, price: 31, resistancesOhm: [0.0259, 0.0265] },
    ageing: { firstOhm: [0.0272, 0.0276], perYear: 0.17 },
    rounds: [{ daysAgo: 4, soc: [0, 0], channelOffsetsV: [-0.642, -0.418], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PF1',
    name: 'Swan float motor',
    chemistry: 'li-ion',
    series: 7,
    parallel: 8,
    ratedAh: 18.6,
    board: 'protects',
    balanceConnector: true,
    findings: ['lead'],
    cycles: 164,
    ageing: { firstOhm: [0.0061, 0.0062, 0.006, 0.0061, 0.0063, 0.0061, 0.0062], perYear: 0.06 },
    discharge: {
      daysAgo: 15,
      rate: 0.25,
      health: [0.86, 0.87, 0.85, 0.87, 0.85, 0.86, 0.86],
      soc: [1, 1, 1, 1, 0.93, 1, 1],
      logged: 'terminals',
    },
    rounds: [
      { daysAgo: 11, soc: [0.985, 0.98, 0.988, 0.984, 0.9, 0.979, 0.986], terminals: true, instrument: 'DM1' },
      { daysAgo: 1, soc: [0.984, 0.98, 0.987, 0.983, 0.815, 0.978, 0.985], terminals: true, instrument: 'DM1' },
    ],
  },
  {
    code: 'PS1',
    name: 'Choir loudspeaker',
    chemistry: 'lfp',
    series: 4,
    parallel: 4,
    ratedAh: 12.4,
    board: 'full',
    balanceConnector: true,
    findings: [],
    cycles: 37,
    ageing: { firstOhm: [0.0117, 0.0115, 0.0119, 0.0116], perYear: 0.03 },
    discharge: { daysAgo: 12, rate: 0.3, health: [0.95, 0.96, 0.93, 0.95], logged: 'groups' },
    rounds: [
      { daysAgo: 3, soc: 0.985, channelOffsetsV: [0.002, -0.001, -0.071, 0.001], terminals: true, instrument: 'CH1' },
    ],
  },
  {
    code: 'PR1',
    name: 'Pilot boat radio block',
    chemistry: 'nimh',
    series: 8,
    parallel: 1,
    ratedAh: 1.9,
    board: 'none',
    balanceConnector: false,
    findings: [],
    cycles: 210,
    ageing: { firstOhm: Array.from({ length: 8 }, () => 0.021), perYear: 0.11, whole: true },
    rounds: [{ daysAgo: 8, soc: [0.81, 0.8, 0.82, 0.79, 0.8, 0.83, 0.8, 0.81], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PB1',
    name: 'Bilge pump',
    chemistry: 'sla',
    series: 6,
    parallel: 1,
    ratedAh: 6.6,
    board: 'none',
    balanceConnector: false,
    findings: [],
    cycles: 24,
    ageing: { firstOhm: Array.from({ length: 6 }, () => 0.0042), perYear: 0.09, whole: true },
    rounds: [{ daysAgo: 5, soc: [0.99, 0.98, 0.985, 0.97, 0.62, 0.99], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PW1',
    name: 'Kite lantern',
    chemistry: 'lipo',
    series: 3,
    parallel: 1,
    ratedAh: 1.7,
    board: 'none',
    balanceConnector: true,
    findings: ['swollen'],
    cycles: 140,
    asNew: { daysAgo: 1120, capacityAh: 1.72, price: 19, resistancesOhm: [0.0091, 0.0094, 0.0089] },
    ageing: { firstOhm: [0.0098, 0.0101, 0.0096], perYear: 0.34 },
    rounds: [{ daysAgo: 2, soc: [0.52, 0.515, 0.51], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PK4',
    name: 'Kite lifter, red',
    chemistry: 'lipo',
    series: 4,
    parallel: 1,
    ratedAh: 2.3,
    board: 'none',
    balanceConnector: true,
    findings: [],
    cycles: 173,
    asNew: { daysAgo: 1150, capacityAh: 2.34, price: 27, resistancesOhm: [0.0054, 0.0053, 0.0056, 0.0054] },
    ageing: {
      firstOhm: [0.0056, 0.0055, 0.0058, 0.0056],
      perYear: 0.09,
      weak: { position: 3, perYear: 0.55 },
    },
    discharge: {
      daysAgo: 9,
      rate: 0.8,
      health: [0.88, 0.89, 0.74, 0.87],
      logged: 'groups',
      earlier: [
        { daysAgo: 1098, times: 1.31 },
        { daysAgo: 735, times: 1.215 },
        { daysAgo: 368, times: 1.097 },
        { daysAgo: 190, times: 1.061 },
      ],
    },
    served: [
      { daysAgo: 1090, minutes: 11 },
      { daysAgo: 728, minutes: 9.5 },
      { daysAgo: 361, minutes: 8 },
      { daysAgo: 20, minutes: 6.2 },
    ],
    rounds: [{ daysAgo: 3, soc: [0.53, 0.53, 0.49, 0.53], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PK5',
    name: 'Kite lifter, blue',
    chemistry: 'lipo',
    series: 4,
    parallel: 1,
    ratedAh: 2.3,
    board: 'none',
    balanceConnector: true,
    findings: [],
    cycles: 66,
    asNew: { daysAgo: 1150, capacityAh: 2.31, price: 27, resistancesOhm: [0.0055, 0.0054, 0.0055, 0.0053] },
    ageing: { firstOhm: [0.0057, 0.0056, 0.0057, 0.0055], perYear: 0.06 },
    discharge: {
      daysAgo: 9,
      rate: 0.8,
      health: [0.94, 0.95, 0.93, 0.95],
      logged: 'groups',
      earlier: [
        { daysAgo: 1099, times: 1.068 },
        { daysAgo: 736, times: 1.044 },
        { daysAgo: 369, times: 1.019 },
      ],
    },
    rounds: [{ daysAgo: 3, soc: 0.54, terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PG1',
    name: 'Gatehouse bell',
    chemistry: 'li-ion',
    series: 3,
    parallel: 2,
    ratedAh: 4.9,
    board: 'full',
    balanceConnector: true,
    findings: [],
    cycles: 58,
    ageing: { firstOhm: [0.0283, 0.0279, 0.0281], perYear: 0.05, weak: { position: 1, perYear: 0.11 } },
    discharge: { daysAgo: 8, rate: 0.4, health: [0.77, 0.83, 0.84], logged: 'groups' },
    rounds: [{ daysAgo: 9, soc: [0.61, 0.62, 0.62], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PH2',
    name: 'Harbour master hand lamp',
    chemistry: 'li-ion',
    series: 1,
    parallel: 3,
    ratedAh: 7.2,
    board: 'protects',
    balanceConnector: false,
    findings: [],
    cycles: 45,
    ageing: { firstOhm: [0.0214], perYear: 0.07 },
    discharge: { daysAgo: 8, rate: 0.3, health: [0.89], logged: 'terminals' },
    rounds: [{ daysAgo: 12, soc: [0.7], terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PT1',
    name: 'Signal tower, spare',
    chemistry: 'lfp',
    series: 8,
    parallel: 1,
    ratedAh: 6.1,
    board: 'full',
    balanceConnector: true,
    findings: [],
    cycles: 19,
    ageing: {
      firstOhm: [0.0142, 0.0139, 0.0144, 0.0141, 0.014, 0.0143, 0.0138, 0.0141],
      perYear: 0.02,
    },
    discharge: {
      daysAgo: 7,
      rate: 0.3,
      health: [0.96, 0.95, 0.97, 0.96, 0.95, 0.96, 0.94, 0.96],
      logged: 'terminals',
    },
    rounds: [{ daysAgo: 10, soc: 0.55, terminals: true, instrument: 'DM1' }],
  },
  {
    code: 'PD1',
    name: 'Ferry landing chimes',
    chemistry: 'li-ion',
    series: 5,
    parallel: 2,
    ratedAh: 4.4,
    board: 'none',
    balanceConnector: true,
    findings: [],
    cycles: 31,
    rounds: [
      { daysAgo: 6, soc: [0.82, 0.825, 0.82, 0.64, 0.82], terminals: true, instrument: 'DM1' },
      { daysAgo: 1, soc: [0.82, 0.825, 0.82, 0.64, 0.82], terminals: true, instrument: 'DM1' },
    ],
  },
];
