import { coverageOf } from './coverage';
import { dischargePopulations } from './discharges';
import { pulsePopulations, relaxationPopulations } from './pulses';
const n = Number(process.argv[2] ?? 200);
const which: any = { d: dischargePopulations, p: pulsePopulations, r: relaxationPopulations };
for (const p of which[process.argv[3] ?? "d"].filter((q: any)=>q.made.includes(process.argv[4]??""))) {
  const c = coverageOf(p, n, 7);
  console.log(`${(100*c.told).toFixed(0).padStart(4)} told  ${(100*c.held).toFixed(1).padStart(5)} held  bias ${(100*c.bias).toFixed(2).padStart(6)} %  e/u ${c.errorOverU.toFixed(2)}  u ${(100*c.relativeU).toFixed(2)} %  ${c.figure} ${c.made}`);
}
