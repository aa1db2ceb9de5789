import { jobHrefOfText, jobOf, needHref, needOf, needOfText } from './need';

test('the short form of a pack', () => {
  expect(needOfText('4s3p')).toEqual({ series: 4, parallel: 3, without: [] });
  expect(needOfText('4s3p without g1-13, G1-014')).toEqual({ series: 4, parallel: 3, without: ['G1-013', 'G1-014'] });
  expect(needOfText('4s3p without that one')).toBeNull();
  expect(needOfText(' 10 x 6 ')).toEqual({ series: 10, parallel: 6, without: [] });
  expect([needOfText('4s'), needOfText('0s3p'), needOfText('400s1p')]).toEqual([null, null, null]);
});

test('an address gives a need, with usual values where it is silent', () => {
  expect(needOf({ series: '4', parallel: '3', enoughAh: '6,5' })).toEqual({
    series: 4,
    parallel: 3,
    model: '',
    duty: 'steady',
    enoughAh: 6.5,
    without: [],
    pins: [],
    load: null,
    minutes: null,
    lowestV: null,
  });
  expect(needOf({ series: '4', parallel: '3', without: 'G1-013 x' })).toMatchObject({ without: ['G1-013'] });
  expect(needOf({ series: 'four', parallel: '3' })).toBeNull();
  expect(needOf({})).toBeNull();
});

test('an address says all of a need again', () => {
  const need = needOf({ series: '7', parallel: '4', pins: 'g1-13', loadA: '10', minutes: '40', lowestV: '3,0' });
  expect(need).toMatchObject({ pins: ['G1-013'], load: { currentA: 10 }, minutes: 40, lowestV: 3 });
  const again = new URL(needHref(need as NonNullable<typeof need>), 'http://here').searchParams;
  expect(needOf(Object.fromEntries(again))).toEqual(need);
});

test('a job, by its form or in one line', () => {
  expect(jobOf({ series: '8 - 6', loadW: '200', minutes: '30' })).toMatchObject({
    series: { from: 6, to: 8 },
    load: { powerW: 200 },
    minutes: 30,
    peakA: null,
    lowestV: null,
  });
  const saidOf = (parameters: Record<string, string>) => {
    const job = jobOf(parameters);
    return 'said' in job ? job.said : null;
  };
  for (const series of ['x', '0', '', '1-999', '101', '3-40']) expect(saidOf({ series })).toMatch(/^In series:/);
  expect(saidOf({ windowV: '20' })).toMatch(/^Volts it bears/);
  expect(saidOf({ series: '7', room: '80 x 100' })).toMatch(/^Room/);
  expect(saidOf({ series: '7', temperatureC: 'cold' })).toMatch(/^Used at/);
  expect(jobOf({ windowV: '29,4 - 18', energyWh: '90', temperatureC: '-5', room: '80x100 × 70,5' })).toMatchObject({
    series: null,
    windowV: { low: 18, high: 29.4 },
    energyWh: 90,
    temperatureC: -5,
    room: [80, 100, 70.5],
  });
  const href = jobHrefOfText('7s 10A 40min 3,0V', 'Quillon Q18') ?? '';
  expect(jobOf(Object.fromEntries(new URL(href, 'http://here').searchParams))).toMatchObject({
    model: 'Quillon Q18',
    series: { from: 7, to: 7 },
    load: { currentA: 10 },
    minutes: 40,
    lowestV: 3,
  });
  expect(jobHrefOfText('6-8s 200 w 30 min', '')).toContain('loadW=200');
  const wide = jobHrefOfText('18-29.4V 10A 90Wh', '') ?? '';
  expect(jobOf(Object.fromEntries(new URL(wide, 'http://here').searchParams))).toMatchObject({
    series: null,
    windowV: { low: 18, high: 29.4 },
    minutes: null,
    energyWh: 90,
  });
  expect([jobHrefOfText('7s4p', ''), jobHrefOfText('7s 10A', '')]).toEqual([null, null]);
});
