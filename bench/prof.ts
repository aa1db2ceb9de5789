import { createReadStream, writeFileSync, existsSync } from 'node:fs';
import { createByteLog } from '@/core/capacity/logBytes';
import { createDischargeMeter } from '@/core/capacity/discharge';
import { createSampleBlocks } from '@/records/sampleBlocks';
const csv = '/tmp/prof.csv';
if (!existsSync(csv)) {
  const lines = ['Time (s),Voltage (V),Temperature (C)'];
  for (let i = 0; i < 1e6; i++) lines.push(`${i / 100},${(4.15 - (1.2 * i) / 1e6 + ((i * 7) % 5) / 2000).toFixed(4)},21.5`);
  writeFileSync(csv, lines.join('\n') + '\n');
}
const what = process.argv[2] ?? 'read';
const meter = createDischargeMeter({ load: { kind: 'current', currentA: 0.5 }, cutoffV: 2.8, voltageDigitV: 0.0005 });
let bytes = 0;
const blocks = createSampleBlocks(1, (row) => (bytes += row.length));
const kept: any[] = [];
async function main() {
const t0 = performance.now();
const log = createByteLog((s) => { if (what !== 'read') kept.push(s); });
for await (const part of createReadStream(csv, { highWaterMark: 1 << 18 })) log.push(part as Buffer);
log.finish();
console.log('read', performance.now() - t0);
if (what !== 'read') {
  let t = performance.now();
  kept.forEach((s) => meter.push(s));
  meter.finish(0.0005);
  console.log('meter', performance.now() - t);
  t = performance.now();
  kept.forEach((s) => blocks.push(s)); blocks.finish();
  console.log('blocks', performance.now() - t, bytes);
}
}
void main();
