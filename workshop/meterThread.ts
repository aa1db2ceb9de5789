import { createDischargeMeter, type Discharge } from '@/core/capacity/discharge';
import { type MessagePort, parentPort } from 'node:worker_threads';
import { type MeterMessage, unpack } from './meterBeside';
import { settled } from './threads';

/** The other side of `meterBeside`: takes samples of one log by its port, and answers with the result. */
parentPort?.on('message', ({ port }: { port: MessagePort }) => {
  let meter: ReturnType<typeof createDischargeMeter> | null = null;
  const take = async (asked: MeterMessage): Promise<Discharge | null> => {
    if (asked.kind === 'begin') meter = createDischargeMeter(asked.settings);
    if (asked.kind === 'samples' && meter) unpack(asked, meter.push);
    return asked.kind === 'finish' && meter ? meter.finish(asked.voltageStepV, asked.currentStepA) : null;
  };
  port.on('message', (asked: MeterMessage) => void settled(take)(asked).then((outcome) => port.postMessage(outcome)));
});
