import type { MessageValues } from '@baton/core';
import { proofWayOut } from '../sending/signed-links';
import type { MailboxRow } from '../store/mailboxes/mailbox-rows';
import { zones } from '../time/zones';

/** What a message's own values are made of. */
export interface Occasion {
  mailbox: Pick<MailboxRow, 'senderName' | 'address' | 'signature'>;
  unsubscribeLink: string;
  browserLink: string;
  postalAddress: string;
  listName: string;
  campaignName: string;
  position: number;
  recipients: number;
  sendingMs: number;
  /** IANA zone of the recipient. */
  zone: string;
}

export function sendingValues({ mailbox, zone, ...own }: Occasion): MessageValues {
  const { senderName, address, signature } = mailbox;
  return { ...own, senderName, senderAddress: address, signature, zone: zones.get(zone) };
}

/** A mailbox while there is none. */
export const NOBODY = {
  senderName: 'Sender name',
  address: 'sender@mailbox.example',
  signature: 'Signature of the mailbox',
};

/** Values of a message that has not left and may never do. */
export function proofValues(
  own: Pick<Occasion, 'postalAddress' | 'listName' | 'position' | 'recipients' | 'sendingMs' | 'zone'> & {
    mailbox: MailboxRow | undefined;
    publicAddress: string;
    campaignName?: string;
  },
): MessageValues {
  const { publicAddress, campaignName = 'Name of the campaign', ...rest } = own;
  const mailbox = own.mailbox ?? NOBODY;
  const { link } = proofWayOut(publicAddress, mailbox.address);
  const browserLink = publicAddress === '' ? '' : link;
  return sendingValues({ ...rest, campaignName, mailbox, unsubscribeLink: link, browserLink });
}
