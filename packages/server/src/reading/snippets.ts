import { compileTemplate, DomainError, findFault, recipientValues } from '@baton/core';
import type { SnippetView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { sendingValues } from '../messages/sending-values';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import { readMailbox } from '../store/mailboxes/mailbox-rows';
import { listSnippets } from '../store/reading/note-rows';
import { readIncoming, type IncomingRow } from '../store/reading/reply-rows';
import { readWorkspace } from '../store/workspace-rows';

/** Texts for answers, as they are kept and as they read for the person of a message. */
export async function viewSnippets(parts: ServerParts, incomingId: number): Promise<SnippetView[]> {
  const { db } = parts.store;
  const row = await readIncoming(db, incomingId);
  if (!row) throw new DomainError('not_found', 'There is no such message.');
  const values = await valuesFor(parts, row);
  return (await listSnippets(db)).map((s) => ({ ...s, ...filledIn(s.text, values) }));
}

type PersonValues = ReturnType<typeof recipientValues>;

async function valuesFor({ store: { db }, clock }: ServerParts, row: IncomingRow): Promise<PersonValues> {
  const person = row.enrolmentId === null ? null : await readEnrolment(db, row.enrolmentId);
  const workspace = await readWorkspace(db);
  const mailbox = await readMailbox(db, row.mailboxId);
  return recipientValues(
    person?.fields ?? {},
    sendingValues({
      mailbox: mailbox ?? { senderName: '', address: '', signature: '' },
      // A letter by hand has none of these.
      ...{ unsubscribeLink: '', browserLink: '', listName: '', campaignName: '', position: 1, recipients: 1 },
      postalAddress: workspace.postalAddress,
      sendingMs: await clock.now(),
      zone: person?.zone ?? workspace.zone,
    }),
  );
}

function filledIn(text: string, values: PersonValues): Pick<SnippetView, 'filled' | 'problem'> {
  const fault = findFault(text);
  if (fault) return { filled: null, problem: `Line ${fault.line}, column ${fault.column}: ${fault.message}` };
  const { text: filled, blanks, faults } = compileTemplate(text).render(values);
  if (blanks.length > 0) return { filled: null, problem: `There is no ${blanks.join(', no ')} for this person.` };
  return faults.length > 0 ? { filled: null, problem: faults.join('; ') } : { filled, problem: '' };
}
