import cluster, { type Worker } from 'node:cluster';

const mostProcesses = 16;

/**
 * How many processes are to serve the workshop, from the environment.
 *
 * @throws Error in words for a person when it is no count
 */
export function processCount({ BOLD_EMBER_PROCESSES: asked }: NodeJS.ProcessEnv): number {
  const count = Number(asked || 1);
  if (!Number.isInteger(count) || count < 1 || count > mostProcesses)
    throw new Error(`BOLD_EMBER_PROCESSES: expected a whole number from 1 to ${mostProcesses}; read "${asked}".`);
  return count;
}

/**
 * Runs several servers on one port and one database. This process hands each connection to one of them, and replaces
 * one that ends. A server that ends before it answers ends all: it says why itself.
 */
export function runProcesses(count: number): void {
  let isStopping = false;
  const ready = new Set<Worker>();
  const stop = (code: number): void => {
    if (isStopping) return;
    isStopping = true;
    const all = Object.values(cluster.workers ?? {}).flatMap((worker) => worker ?? []);
    const left = new Set(all);
    if (left.size === 0) process.exit(code);
    for (const worker of all) {
      worker.once('exit', () => {
        left.delete(worker);
        if (left.size === 0) process.exit(code);
      });
      worker.process.kill();
    }
  };
  process.once('SIGTERM', () => stop(0));
  process.once('SIGINT', () => stop(0));

  cluster.on('exit', (worker) => {
    if (isStopping) return;
    if (!ready.delete(worker)) return stop(1);
    console.error(`Server process ${worker.process.pid} ended; another takes its place.`);
    cluster.fork();
  });
  relayTests(count, ready);
  for (let n = 0; n < count; n++) cluster.fork();
}

/** Tests hear the port once every process answers, and move the clocks of all. */
function relayTests(count: number, ready: Set<Worker>): void {
  let isAnnounced = false;
  let waiting: Worker[] = [];
  cluster.on('message', (worker, message: unknown) => {
    if (!ready.has(worker)) {
      ready.add(worker);
      if (ready.size === count && !isAnnounced) process.send?.(message);
      isAnnounced ||= ready.size === count;
      return;
    }
    waiting = waiting.filter((one) => one !== worker);
    if (waiting.length === 0) process.send?.(message);
  });
  process.on('message', (message) => {
    waiting = [...ready];
    for (const worker of waiting) worker.send(message as number);
  });
}
