// A worker thread of its own loads TypeScript by itself, whatever loaded the one that began it.
require('tsx/cjs/api').register();
require('./meterThread.ts');
