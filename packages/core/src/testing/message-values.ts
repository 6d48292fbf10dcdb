import type { MessageValues } from '../messages/message-values';
import { createZones } from '../time/zone';

/** Values of a message from a made-up mailbox, on a Tuesday morning. */
export function messageValues(over: Partial<MessageValues> = {}): MessageValues {
  return {
    senderName: 'Ines Aldrich',
    senderAddress: 'ines@tidewaterkelp.example',
    signature: 'Ines Aldrich\nTidewater Kelp Works',
    unsubscribeLink: 'http://127.0.0.1/u/x',
    browserLink: 'http://127.0.0.1/m/x',
    postalAddress: '4 Slip Road, Carrow Bay',
    listName: 'Vineyards',
    campaignName: 'Spring trial',
    position: 3,
    recipients: 312,
    sendingMs: Date.UTC(2026, 10, 24, 10, 42),
    zone: createZones().get('Europe/Dublin'),
    ...over,
  };
}
