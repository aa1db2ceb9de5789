import fc from 'fast-check';

fc.configureGlobal({ seed: 20_261_123 });
