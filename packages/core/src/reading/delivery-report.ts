/** One recipient's part of a delivery status report (RFC 3464 2.3). */
export interface ReportedRecipient {
  address: string;
  /** failed, delayed, delivered, relayed or expanded, in lower case. */
  action: string;
  /** Enhanced status code (RFC 3463) such as 5.1.1, or ''. */
  status: string;
  diagnostic: string;
}

/**
 * Reads the text of a message/delivery-status part (RFC 3464): blocks of fields, the first about the
 * message, each further one about a recipient.
 *
 * @returns the recipients named; [] when the text is not a report
 */
export function readDeliveryReport(text: string): ReportedRecipient[] {
  return text
    .replaceAll('\r\n', '\n')
    .split(/\n{2,}/)
    .map(readFields)
    .flatMap((fields) => {
      const recipient = fields.get('final-recipient') ?? fields.get('original-recipient');
      if (!recipient) return [];
      return [
        {
          address: recipient
            .replace(/^[^;]*;\s*/, '')
            .replace(/^<|>$/g, '')
            .trim(),
          action: (fields.get('action') ?? '').toLowerCase(),
          status: /\d\.\d{1,3}\.\d{1,3}/.exec(fields.get('status') ?? '')?.[0] ?? '',
          diagnostic: (fields.get('diagnostic-code') ?? '').replace(/^[^;]*;\s*/, ''),
        },
      ];
    });
}

/** Field names in lower case; folded lines joined (RFC 5322 2.2.3). */
function readFields(block: string): Map<string, string> {
  const fields = new Map<string, string>();
  for (const line of block.replace(/\n[ \t]+/g, ' ').split('\n')) {
    const m = /^([!-9;-~]+):\s*(.*)$/.exec(line);
    if (m) fields.set((m[1] as string).toLowerCase(), (m[2] as string).trim());
  }
  return fields;
}
