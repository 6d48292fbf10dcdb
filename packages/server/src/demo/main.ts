import { simulatorClient } from '../duties/simulated-world';
import { apiClient } from './api-client';
import { fillDemo, setRecords, type ProviderDesk } from './fill-demo';

/** `demo.mjs ORIGIN`: fills a freshly made workspace. */
const origin = process.argv[2] as string;
const desk = simulatorClient(process.env['BATON_SIMULATOR_URL'] as string);
const ports = (await desk.call('GET', '/ports')) as { smtp: number; imap: number; signIn: number };
const provider: ProviderDesk = {
  call: (method, path, body) => desk.call(method, path, body),
  smtpPort: ports.smtp,
  imapPort: ports.imap,
  issuer: `http://127.0.0.1:${ports.signIn}`,
};
await setRecords(provider);
await fillDemo(apiClient(origin), provider, process.stdout);
