import { chromium } from 'playwright';
const b = await chromium.launch({ executablePath: '/usr/bin/chromium' });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
const base='http://127.0.0.1:4111';
for (const [n,u] of JSON.parse(process.argv[2])) { await p.goto(base+u); await p.waitForTimeout(900); await p.screenshot({ path: `/tmp/s-${n}.png`, fullPage: process.argv[3]==='full' }); }
await b.close();
