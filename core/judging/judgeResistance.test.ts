import { warningText } from '@/words/warnings';
import type { Protocol, StoredResistance } from './facts';
import type { ResistanceFacts } from '@/core/resistance/judgeReading';
import { bareBench, type Equipment } from './equipment';
import { judgeResistance } from './judgeResistance';

const protocol: Protocol = {
  id: 1,
  name: 'full',
  school: '',
  method: 'ac-meter',
  charge: { from: 0.93, to: 1 },
  temperature: { coldestC: 15, warmestC: 28 },
  restS: 3600,
  rateC: null,
  holdS: 1,
  archivedAt: null,
};
const equipment: Equipment = { ...bareBench, protocols: new Map([[1, protocol]]) };
const minute = 60_000;
const takenAt = new Date(Date.UTC(2026, 4, 2, 12));
const direct: ResistanceFacts = {
  kind: 'resistance',
  resistanceOhm: 0.0214,
  step: 0.0001,
  openV: 4.17,
  zeroTaken: null,
};
const stored: StoredResistance = {
  together: 1,
  position: 1,
  leadOhm: null,
  roundId: 1,
  protocolId: 1,
  method: 'ac-meter',
  takenAt,
  temperatureC: 21,
  instrumentId: null,
  channel: null,
  ammeterId: null,
  disturbedAt: null,
  facts: direct,
};
const cell = { chemistry: 'li-ion', board: false } as const;
const judge = (change: Partial<StoredResistance>, at: Equipment = equipment) =>
  judgeResistance({ ...stored, ...change }, cell, at);
const codes = (judged: ReturnType<typeof judge>) => judged.warnings.map((warning) => warning.code);

test('as its protocol asks: a figure, no warning, nothing left out', () => {
  expect(judge({})).toMatchObject({ result: { resistance: { value: 0.0214 } }, warnings: [], leftOut: null });
});

test.each([
  [{ facts: { ...direct, openV: 3.7 } as ResistanceFacts }, 'charge-outside'],
  [{ temperatureC: 9 }, 'temperature-outside'],
  [{ disturbedAt: new Date(takenAt.getTime() - 20 * minute) }, 'not-rested'],
  [
    {
      facts: {
        kind: 'load-step',
        openV: 3.7,
        loadedV: 3.6,
        afterV: null,
        afterS: null,
        currentA: 2,
        step: 0.001,
        currentStep: 0.01,
        loadResistanceOhm: null,
        loadTolerance: null,
        loadRatingW: null,
      } as ResistanceFacts,
      method: 'ammeter' as const,
    },
    'charge-outside',
  ],
  [
    {
      facts: {
        kind: 'pulse',
        runId: 1,
        atS: 30,
        edge: {
          atS: 60,
          deltaCurrentA: 2,
          fromV: 3.5,
          resistanceOhm: { '10s': 0.05 },
          standardUncertaintyOhm: { '10s': 0.001 },
          currentRelativeU: 0,
          unsettled: [],
          relaxation: null,
        },
      } as ResistanceFacts,
      method: 'pulse' as const,
    },
    'charge-outside',
  ],
])('case %#: kept with its figure, left out of any comparison', (change, code) => {
  const judged = judge(change);
  expect(codes(judged)).toContain(code);
  expect(judged.result).not.toBeNull();
  expect(judged.leftOut && warningText(judged.leftOut)).toContain('kept, but not compared');
});

test('rested long enough, or never known to be charged: compared', () => {
  expect(judge({ disturbedAt: new Date(takenAt.getTime() - 70 * minute) }).leftOut).toBeNull();
  expect(codes(judge({ facts: { ...direct, openV: null } as ResistanceFacts }))).toEqual(['charge-unknown']);
});

test('a confirmed reading that is no resistance has no figure, and a protocol nobody knows has no window', () => {
  expect(judge({ facts: { ...direct, resistanceOhm: -0.002 } as ResistanceFacts }).result).toBeNull();
  expect(judge({ temperatureC: 9 }, { ...equipment, protocols: new Map() }).leftOut).toBeNull();
});

test('a board in the path gives a warning, whatever the value', () => {
  expect(judgeResistance(stored, { ...cell, board: true }, equipment)).toMatchObject({
    leftOut: null,
    warnings: [{ code: 'board-in-path' }],
  });
});
