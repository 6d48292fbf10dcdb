/** One recipient's part of a delivery status report (RFC 3464 2.3). */
export interface ReportedRecipient {
  /** As the sender gave it where the report says so, else as the server last knew it. */
  address: string;
  /** The other of the two where both are there and differ; '' else. */
  otherAddress: string;
  /** failed, delayed, delivered, relayed or expanded, in lower case. */
  action: string;
  /** Enhanced status code (RFC 3463) such as 5.1.1, or ''. */
  status: string;
  diagnostic: string;
}

/** Recipients read of a report. */
const MOST_RECIPIENTS = 200;

/**
 * Reads the text of a message/delivery-status part (RFC 3464): blocks of fields, the first about the
 * message, each further one about a recipient.
 *
 * @returns the recipients named; [] when the text is not a report
 */
export function readDeliveryReport(text: string): ReportedRecipient[] {
  return recipientBlocks(text)
    .map(recipientOf)
    .filter((r) => r.address !== '');
}

/** Fields by name in lower case, of each recipient; folded lines joined (RFC 5322 2.2.3). */
function recipientBlocks(text: string): Map<string, string>[] {
  const blocks: Map<string, string>[] = [new Map()];
  for (const line of text
    .replace(/\r\n?/g, '\n')
    .replace(/\n[ \t]+(?=\S)/g, ' ')
    .split('\n')) {
    let block = blocks.at(-1) as Map<string, string>;
    const [, written = '', value = ''] = /^([!-9;-~]+):\s*(.*)$/.exec(line) ?? [];
    const name = written.toLowerCase();
    // Some servers leave the empty line out, others put one where none belongs.
    const isNext = name === '' ? block.has('action') || !hasRecipient(block) : RECIPIENT.test(name) && block.has(name);
    if (isNext && block.size > 0) blocks.push((block = new Map()));
    if (name !== '' && !block.has(name)) block.set(name, value.trim());
    if (blocks.length > MOST_RECIPIENTS) break;
  }
  return blocks.filter(hasRecipient);
}

const RECIPIENT = /^(?:original|final)-recipient$/;
const hasRecipient = (block: ReadonlyMap<string, string>) =>
  block.has('original-recipient') || block.has('final-recipient');

function recipientOf(fields: ReadonlyMap<string, string>): ReportedRecipient {
  const original = addressIn(fields.get('original-recipient'));
  const final = addressIn(fields.get('final-recipient'));
  const address = original || final;
  return {
    address,
    otherAddress: final.toLowerCase() === address.toLowerCase() ? '' : final,
    action: (fields.get('action') ?? '').toLowerCase().replace(/[^a-z].*/s, ''),
    status: /\b[245]\.\d{1,3}\.\d{1,3}\b/.exec(fields.get('status') ?? '')?.[0] ?? '',
    diagnostic: (fields.get('diagnostic-code') ?? '').replace(/^[^;\s]*;\s*/, ''),
  };
}

/** Without the type that stands before it. */
const addressIn = (field: string | undefined): string =>
  (field ?? '')
    .replace(/^[^;@]*;\s*/, '')
    .replace(/\s*\([^()]*\)\s*$/, '')
    .replace(/^<|>$/g, '')
    .trim();
