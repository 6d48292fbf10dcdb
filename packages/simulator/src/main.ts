import { startProvider } from './provider';

/** The simulator as a process: ports, seed and journal from the environment. */
const port = (name: string) => Number(process.env[name] ?? 0);
const provider = await startProvider({
  seed: Number(process.env['BATON_SIMULATOR_SEED'] ?? 7),
  smtpPort: port('BATON_SIMULATOR_SMTP_PORT'),
  imapPort: port('BATON_SIMULATOR_IMAP_PORT'),
  signInPort: port('BATON_SIMULATOR_SIGN_IN_PORT'),
  controlPort: port('BATON_SIMULATOR_CONTROL_PORT'),
  journal: process.env['BATON_SIMULATOR_JOURNAL'] ?? null,
});
process.send?.({ ready: true });
console.log(`simulator: SMTP ${provider.smtpPort}, IMAP ${provider.imapPort}, control ${provider.controlPort}`);

const stop = () => void provider.close().then(() => process.exit(0));
process.once('SIGTERM', stop);
process.once('SIGINT', stop);
