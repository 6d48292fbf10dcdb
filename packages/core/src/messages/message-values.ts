import type { Zone } from '../time/zone';
import { fieldKey } from './field-name';
import { isNoName } from './no-name';
import { sendingTimes } from './sending-times';
import { compileTemplate, findFault, type Rendered, type ValueFinder } from './template';

/** The values that every message has in addition to the list's columns. */
export interface MessageValues {
  senderName: string;
  senderAddress: string;
  signature: string;
  /** The recipient's own value; a list's column of the same name never replaces it. */
  unsubscribeLink: string;
  browserLink: string;
  postalAddress: string;
  listName: string;
  campaignName: string;
  /** 1-based place of the recipient among all of the campaign, and how many these are. */
  position: number;
  recipients: number;
  /** When it leaves, and the recipient's zone. */
  sendingMs: number;
  zone: Zone;
}

/** The values' names in messages, with what they are. */
export const MESSAGE_FIELDS: readonly { name: string; words: string }[] = [
  { name: 'signature', words: 'of the mailbox' },
  { name: 'unsubscribe link', words: 'the recipient’s own' },
  { name: 'browser link', words: 'to see it in the browser' },
  { name: 'sender name', words: 'of the mailbox' },
  { name: 'sender address', words: 'of the mailbox' },
  { name: 'postal address', words: 'of the workspace' },
  { name: 'sending date', words: '24 November 2026' },
  { name: 'sending day', words: '24' },
  { name: 'sending weekday', words: 'Tuesday' },
  { name: 'sending week', words: '48, as ISO counts' },
  { name: 'sending month', words: 'November' },
  { name: 'sending year', words: '2026' },
  { name: 'sending time', words: '10:42 of the recipient’s zone' },
  { name: 'sending moment', words: 'for “date: "%A %d %B", "Europe/Dublin"”' },
  { name: 'position', words: 'of the recipient' },
  { name: 'recipients', words: 'how many in all' },
  { name: 'list name', words: '' },
  { name: 'campaign name', words: '' },
];

/** Keys of {@link MESSAGE_FIELDS}. */
export const MESSAGE_KEYS: ReadonlySet<string> = new Set(MESSAGE_FIELDS.map((f) => fieldKey(f.name)));

/** Fields of people's names, in which `-` or `n/a` counts as blank. */
const NAMES = new Set(['givenname', 'familyname', 'fullname']);

/**
 * What a message's fields are for one recipient.
 *
 * @param row the recipient's fields by key; they win over {@link MessageValues} of the same name, but for the links
 */
export function recipientValues(row: Readonly<Record<string, string>>, values: MessageValues): ValueFinder {
  let times: ReturnType<typeof sendingTimes> | null = null;
  let signed: Rendered | null = null;
  // A signature may hold fields, but not itself.
  const signature = (): string => {
    const { signature: written } = values;
    if (!written.includes('{{') || findFault(written) !== null) return written;
    signed ??= compileTemplate(written).render((key) => (key === 'signature' ? '' : look(key)));
    look.inner = signed;
    return signed.text;
  };
  const own = (key: string): string | undefined => {
    switch (key) {
      case 'sendername':
        return values.senderName;
      case 'senderaddress':
        return values.senderAddress;
      case 'signature':
        return signature();
      case 'postaladdress':
        return values.postalAddress;
      case 'listname':
        return values.listName;
      case 'campaignname':
        return values.campaignName;
      case 'position':
        return String(values.position);
      case 'recipients':
        return String(values.recipients);
      default:
        if (!key.startsWith('sending')) return undefined;
        times ??= sendingTimes(values.sendingMs, values.zone);
        return Object.hasOwn(times, key) ? times[key] : undefined;
    }
  };
  const look: ValueFinder = (key) => {
    if (key === 'unsubscribelink') return values.unsubscribeLink;
    if (key === 'browserlink') return values.browserLink;
    if (!Object.hasOwn(row, key)) return own(key);
    const value = row[key] as string;
    return NAMES.has(key) && isNoName(value) ? '' : value;
  };
  return look;
}
