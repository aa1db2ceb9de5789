// A worker thread of its own loads TypeScript by itself, whatever loaded the server.
require('tsx/cjs/api').register();
module.exports = require('./tasks.ts');
