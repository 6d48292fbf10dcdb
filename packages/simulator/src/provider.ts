import { Behaviour } from './people/behaviour';
import { Faults } from './faults';
import { startControl } from './http/control-server';
import { startImap } from './imap/imap-server';
import { MailStore } from './mail/mail-store';
import { startSmtp } from './smtp/smtp-server';

export interface ProviderOptions {
  seed: number;
  /** 0: any free port. */
  smtpPort: number;
  imapPort: number;
  controlPort: number;
  /** Journal file, or null to keep all in memory. */
  journal: string | null;
}

export interface Provider {
  smtpPort: number;
  imapPort: number;
  controlPort: number;
  store: MailStore;
  behaviour: Behaviour;
  close(): Promise<void>;
}

/** Starts the mail provider and its recipients on loopback. */
export async function startProvider(options: ProviderOptions): Promise<Provider> {
  const store = new MailStore(options.journal);
  const behaviour = new Behaviour(store, options.seed);
  const faults = new Faults();
  const smtp = await startSmtp(store, behaviour, faults, options.smtpPort);
  const imap = await startImap(store, faults, options.imapPort);
  const control = await startControl(
    { store, behaviour, faults, ports: { smtp: smtp.port, imap: imap.port } },
    options.controlPort,
  );
  return {
    smtpPort: smtp.port,
    imapPort: imap.port,
    controlPort: control.port,
    store,
    behaviour,
    async close() {
      await Promise.all([smtp.close(), imap.close(), control.close()]);
    },
  };
}
