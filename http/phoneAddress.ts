import qrcode from 'qrcode';
import { ownAddresses } from './settings';

/** Prints where a phone in the same network finds the workshop, as text and as a QR code (ISO/IEC 18004). */
async function main(port: string): Promise<void> {
  const addresses = ownAddresses().map((address) => `http://${address}:${port}`);
  if (addresses.length === 0) return console.error('This machine is in no network that a phone could reach.');
  console.error(`In your network: ${addresses.join(' or ')}`);
  console.error(await qrcode.toString(addresses[0] as string, { type: 'terminal', small: true }));
}

void main(process.argv[2] ?? '3000');
