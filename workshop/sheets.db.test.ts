import { judgedSheets, uncorrectedChannels } from './sheets';
import { addCalibration } from '@/records/calibrations';
import { crossCheckEntry, openCrossCheck } from '@/records/crossChecks';
import { fileEntry, voidEntry } from '@/records/ledger';
import { database } from '@/records/database';
import { addInstrument, archiveInstrument } from '@/records/instruments';
import { type Scratch, scratchWorkshop } from '@/records/scratchDatabase';
import { judgedWorkshop } from './judged';
import { randomUUID } from 'node:crypto';
import { frameFacts } from './frame';
import { calibrationOf } from '@/core/judging/judgeSheet';

let scratch: Scratch;
const ids = new Map<string, number>();
const idOf = (code: string) => ids.get(code) as number;

beforeAll(async () => {
  scratch = await scratchWorkshop();
  process.env.DATABASE_URL = scratch.url;
  for (const code of ['DM1', 'DM2', 'DM3', 'CH1']) {
    const channels = code === 'CH1' ? 2 : 1;
    ids.set(
      code,
      await addInstrument(database(), {
        code,
        name: code,
        kind: channels > 1 ? 'charger' : 'meter',
        channels,
        wires: null,
        leads: null,
        certified: false,
        ranges: { voltage: { resolution: 0.001, accuracyShare: 0.0005, accuracyCounts: 2 } },
      }),
    );
  }
});

afterAll(async () => {
  await database().end();
  await scratch.drop();
});

async function sheetOf(name: string, shown: Record<string, number[]>): Promise<{ id: number; entry: string }> {
  const { id, occasionId } = await openCrossCheck(database(), name, ['half']);
  const entry = randomUUID();
  for (const [code, volts] of Object.entries(shown)) {
    const line = crossCheckEntry({
      entry: code === 'CH1' ? entry : randomUUID(),
      crossCheckId: id,
      occasionId,
      position: 1,
      instrumentId: idOf(code),
      confirmed: false,
      readings: volts.map((voltageV, i) => ({ channel: i + 1, voltageV, step: 0.001 })),
    });
    await fileEntry(database(), line);
  }
  return { id, entry };
}
const wrong = async () => uncorrectedChannels(await judgedWorkshop());
const onBenchLine = async () => (await frameFacts()).stops.find((stop) => stop.key === 'instruments');

test('a channel that stands alone counts as wrong until it is corrected, and again once that is withdrawn', async () => {
  expect(await wrong()).toBe(0);
  const { id } = await sheetOf('first', { DM1: [3.7], DM2: [3.701], DM3: [3.699], CH1: [3.7, 3.62] });
  expect(await wrong()).toBe(1);
  expect(await onBenchLine()).toMatchObject({ count: 1, hot: true });

  const sheet = (await judgedSheets(await judgedWorkshop())).find((one) => one.crossCheck.id === id);
  const channel = sheet?.channels.find((one) => one.name === 'CH1.2');
  const verdict = sheet && channel && calibrationOf(sheet, channel, 'offset');
  if (!verdict?.ok) throw new Error('refused');
  expect(verdict.correction.offset.value).toBeCloseTo(-0.08, 2);
  await addCalibration(database(), {
    instrumentId: idOf('CH1'),
    channel: 2,
    correction: verdict.correction,
    crossCheckId: id,
    adjusted: null,
    reference: 'DM1',
    calibratedAt: new Date(),
  });
  expect(await wrong()).toBe(0);
  expect(await onBenchLine()).toMatchObject({ count: 0, hot: false });
});

test('the newest sheet a channel was in decides; a voided line says nothing; what is put away does not count', async () => {
  const { entry } = await sheetOf('second', { DM1: [3.7], DM2: [3.701], DM3: [3.699], CH1: [3.62, 3.7] });
  expect(await wrong()).toBe(1);
  await archiveInstrument(database(), idOf('CH1'), true);
  expect(await wrong()).toBe(0);
  await archiveInstrument(database(), idOf('CH1'), false);
  expect(await wrong()).toBe(1);
  await voidEntry(database(), entry, 'wrong battery');
  expect(await wrong()).toBe(0);
});

test('two that disagree make nobody wrong', async () => {
  await sheetOf('third', { DM1: [3.7], DM2: [3.8] });
  expect(await wrong()).toBe(0);
  expect((await judgedSheets(await judgedWorkshop()))[0]?.consensus).toMatchObject([{ kind: 'nobody-knows' }]);
});
