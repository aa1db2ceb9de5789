import { computeChargerSheet } from './chargerSheet';
import { chargerSheetRequest } from './schemas';

const ask = (request: object) => computeChargerSheet(chargerSheetRequest.parse(request), new AbortController().signal);
const charger = { maxA: 10, maxW: 200, dischargeMaxW: 20, stepA: 0.1, balances: true };
const pack = { chemistry: 'lipo', series: 4, capacityAh: 5.25, measuredVoltageV: 15.3 };

test('every setting, what to see, what comes after', async () => {
  const sheet = await ask({ pack, charger, goal: 'charge' });
  expect(sheet).toMatchObject({
    allowed: true,
    settings: { cells: 4, currentA: 5.3, endVoltageV: 16.8, timerMin: 100, temperatureLimitC: 49 },
  });
  if (!sheet.allowed) return;
  expect(sheet.look[0]).toBe('At the start: 4 in series, 15.30 V, as your meter shows.');
  expect(sheet.cautions.join(' ')).toContain('Check count, chemistry and polarity');
  expect(sheet.expectedMin).toBe(sheet.attendedMin);
});

test('a count that is not its own is refused, with what it could be', async () => {
  const sheet = await ask({ pack: { ...pack, series: 3 }, charger, goal: 'charge' });
  expect(sheet).toMatchObject({ allowed: false, code: 'not-its-voltage' });
  expect(sheet.allowed === false && sheet.why).toContain('14.8 V, 4 in series, Lithium pouch');
});

test('house rules may be told, within their limits', async () => {
  const rules = { chargePouchC: 0.6 };
  expect(await ask({ pack, charger, goal: 'charge', rules })).toMatchObject({ settings: { currentA: 3.2 } });
  const wild = chargerSheetRequest.safeParse({ pack, charger, goal: 'charge', rules: { chargePouchC: 90 } });
  expect(wild.error?.issues).toMatchObject([{ path: ['rules', 'chargePouchC'] }]);
  const none = chargerSheetRequest.safeParse({ pack, charger: { ...charger, maxW: 0 }, goal: 'charge' });
  expect(none.error?.issues).toMatchObject([{ path: ['charger', 'maxW'] }]);
});
