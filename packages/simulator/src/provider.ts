import { Behaviour } from './people/behaviour';
import { Faults } from './faults';
import { startControl } from './http/control-server';
import { startImap, type ImapListening } from './imap/imap-server';
import { MailStore } from './mail/mail-store';
import { configurationOf, startAuthorizationServer } from './sign-in/authorization-server';
import { startSmtp } from './smtp/smtp-server';

export interface ProviderOptions {
  seed: number;
  /** 0: any free port. */
  smtpPort: number;
  imapPort: number;
  /** Where people sign in to let a program use their account. */
  signInPort?: number;
  controlPort: number;
  /** Journal file, or null to keep all in memory. */
  journal: string | null;
}

export interface Provider {
  smtpPort: number;
  imapPort: number;
  signInPort: number;
  controlPort: number;
  /** Its IMAP connections. */
  imap: Pick<ImapListening, 'isIdling' | 'cut'>;
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
  const signIn = await startAuthorizationServer(store, faults, options.signInPort ?? 0);
  const imap = await startImap(store, faults, options.imapPort, configurationOf(signIn.port));
  const control = await startControl(
    { store, behaviour, faults, ports: { smtp: smtp.port, imap: imap.port, signIn: signIn.port } },
    options.controlPort,
  );
  return {
    smtpPort: smtp.port,
    imapPort: imap.port,
    signInPort: signIn.port,
    controlPort: control.port,
    imap,
    store,
    behaviour,
    async close() {
      await Promise.all([smtp.close(), imap.close(), signIn.close(), control.close()]);
    },
  };
}
