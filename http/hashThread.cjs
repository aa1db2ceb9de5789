const { argon2id, argon2Verify } = require('hash-wasm');
const { randomBytes } = require('node:crypto');

/** RFC 9106, section 4: the second recommended option, for machines with little memory. */
const parameters = { iterations: 3, parallelism: 4, memorySize: 65_536, hashLength: 32 };

/** What the thread of `passphrase.ts` computes. */
module.exports = {
  hash: (passphrase) =>
    argon2id({ ...parameters, password: Buffer.from(passphrase), salt: randomBytes(16), outputType: 'encoded' }),
  verify: ({ hash, passphrase }) => argon2Verify({ hash, password: Buffer.from(passphrase) }),
};
