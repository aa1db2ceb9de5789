import { packCircuit, readCircuit } from '@/core/simulation/packCircuit';
import { circuitCases, groupsOfCase } from '@/core/simulation/packRunCases';
import { writeFileSync } from 'node:fs';
import { ngspice, ngspiceVersion } from './ngspice';

/** Makes core/simulation/ngspicePackRun.json again: `npx tsx bench/ngspicePackRun.ts`. */
const every = 60;
const cases = circuitCases.map((one) => {
  const groups = groupsOfCase(one);
  const { written } = ngspice(packCircuit(groups, one.currentA, { untilS: one.untilS, everyS: 1 }));
  const samples = readCircuit(written, groups.length)
    .filter(({ atS }) => atS > 0 && Math.round(atS) % every === 0)
    .map(({ atS, groupsV }) => [Math.round(atS), ...groupsV.map((v) => Number(v.toFixed(5)))]);
  return { name: one.name, samples };
});
const target = 'core/simulation/ngspicePackRun.json';
writeFileSync(target, `${JSON.stringify({ madeBy: ngspiceVersion(), cases })}\n`);
