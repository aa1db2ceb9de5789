import { hostname, networkInterfaces } from 'node:os';

/** How the server was asked to listen. */
export interface Settings {
  address: string;
  port: number;
  /** Names and addresses by which it may be called, in lower case and without port. */
  hosts: ReadonlySet<string>;
  /** There is a proxy in front: what it says of the caller is believed. */
  behindProxy: boolean;
  /** While developing: pages change as their source does. */
  hotReload: boolean;
}

const loopbackNames = ['localhost', '127.0.0.1', '[::1]'];
const loopbackAddresses = ['127.0.0.1', '::1', 'localhost'];

const isLoopback = (address: string): boolean => loopbackAddresses.includes(address);

/** This machine's own addresses in its networks, version 4. */
export const ownAddresses = (): string[] =>
  Object.values(networkInterfaces()).flatMap((addresses = []) =>
    addresses.filter((one) => one.family === 'IPv4' && !one.internal).map((one) => one.address),
  );

/**
 * Reads the settings from the environment.
 *
 * @throws Error in words for a person when it may not listen as asked
 */
export function readSettings(env: NodeJS.ProcessEnv, hasPassphrase: boolean): Settings {
  const address = env.BOLD_EMBER_LISTEN || '127.0.0.1';
  const port = Number(env.PORT || 3000);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`PORT: expected a number up to 65535; read "${env.PORT}".`);
  if (!isLoopback(address) && !hasPassphrase) {
    throw new Error(
      `Without a passphrase the workshop listens on this machine only, not on ${address}. Start it with bin/start ` +
        '--lan, or set BOLD_EMBER_PASSPHRASE.',
    );
  }
  const named = (env.BOLD_EMBER_HOSTS ?? '').split(/[\s,]+/).filter(Boolean);
  const own = isLoopback(address) ? [] : [...ownAddresses(), hostname(), `${hostname()}.local`];
  return {
    address,
    port,
    hosts: new Set([...loopbackNames, ...own, ...named].map((host) => host.toLowerCase())),
    behindProxy: Boolean(env.BOLD_EMBER_TRUSTED_PROXY),
    hotReload: env.NODE_ENV === 'development',
  };
}
