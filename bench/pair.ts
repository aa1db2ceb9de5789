import { type Served, serve } from '@/e2e/server';
import { once } from 'node:events';
import { type AddressInfo, connect, createServer } from 'node:net';

/** Two servers on one database, and a proxy before them that hands each connection to one that answers. */
export interface Pair {
  url: string;
  servers: Served[];
  stop(): Promise<void>;
}

/** @param url of their database */
export async function openPair(url: string): Promise<Pair> {
  const servers = await Promise.all([serve(url), serve(url)]);
  let turn = 0;
  const proxy = createServer((from) => {
    turn += 1;
    from.on('error', () => undefined);
    const order = turn % 2 === 0 ? [...servers] : [...servers].reverse();
    const connectTo = ([next, ...others]: Served[]): void => {
      if (!next) return void from.destroy();
      const to = connect(Number(new URL(next.url).port), '127.0.0.1');
      let isOpen = false;
      to.once('connect', () => {
        isOpen = true;
        from.pipe(to).pipe(from);
        to.once('close', () => from.destroy());
        from.once('close', () => to.destroy());
      });
      to.on('error', () => (isOpen ? from.destroy() : connectTo(others)));
    };
    connectTo(order);
  }).listen(0, '127.0.0.1');
  await once(proxy, 'listening');
  return {
    url: `http://127.0.0.1:${(proxy.address() as AddressInfo).port}`,
    servers,
    stop: async () => {
      proxy.close();
      await Promise.all(servers.map((server) => server.stop()));
    },
  };
}
