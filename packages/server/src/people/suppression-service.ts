import { DomainError, parseAddress } from '@baton/core';
import { stopContact } from '../campaigns/stop-recipient';
import { announce } from '../store/changes';
import type { Database } from '../store/database';
import { contactIdsOfDomain } from '../store/campaign-rows';
import { addSuppression, contactByKey, removeSuppression } from '../store/people-rows';

/**
 * Puts an address or a domain on the suppression list; whoever it covers gets nothing more, at once.
 *
 * @param what `ana@vines.example` or `vines.example`
 * @throws DomainError `invalid` when it is neither
 */
export async function suppress(
  db: Database,
  { what, reason }: { what: string; reason: string },
  nowMs: number,
): Promise<void> {
  const isDomain = !what.includes('@') || what.startsWith('@');
  const parsed = parseAddress(isDomain ? `x@${what.replace(/^@/, '')}` : what);
  if (!parsed.ok)
    throw new DomainError(
      'invalid',
      `${isDomain ? `“${what}” is neither an address nor a domain` : parsed.reason}. Expected ana@vines.example or vines.example.`,
    );
  const key = isDomain ? parsed.value.domain : parsed.value.key;
  await db.transaction(async (tx) => {
    await addSuppression(tx, {
      kind: isDomain ? 'domain' : 'address',
      key,
      reason: reason || 'added by hand',
      source: 'by hand',
      createdAt: nowMs,
    });
    const contact = isDomain ? null : await contactByKey(tx, key);
    for (const contactId of isDomain ? await contactIdsOfDomain(tx, key) : contact ? [contact.id] : [])
      await stopContact(tx, {
        contactId,
        cause: null,
        where: 'everywhere',
        state: 'stopped',
        reason: 'put on the suppression list',
        nowMs,
      });
    await announce(tx, 'people');
  });
}

/** Takes an entry off; what it had stopped stays stopped. @throws DomainError `not_found` when it is not there */
export async function unsuppress(db: Database, id: number): Promise<void> {
  if (!(await removeSuppression(db, id))) throw new DomainError('not_found', 'This entry is no longer on the list.');
  await announce(db, 'people');
}
