import {
  compileMessage,
  createZones,
  EMPTY_CONTENT,
  fieldsOf,
  letterDoc,
  messageSource,
  recipientValues,
  renderProof,
  RiskRanking,
  type MessageContent,
  type MessageValues,
} from '@baton/core';
import { Liquid } from 'liquidjs';
import MailComposer from 'nodemailer/lib/mail-composer';
import { composeMessage } from '../packages/server/src/sending/compose';
import { bestInTurn, print } from './row';

const RECIPIENTS = 300;
const PROOFS = 100_000;
const COMPANIES = ['Holm Vines', 'Salt Estate GmbH', '', 'Ridge Cellars', 'Quinta do Vale'];
const NAMES = ['Lea', 'BRUNO', 'Nguyễn Thị Ánh', '', 'Ilse'];

const CONTENT: MessageContent = {
  ...EMPTY_CONTENT,
  subject: 'Kelp for {{ company | default: "your vines" }}, {{ given_name | default: "friend" }}?',
  body: letterDoc(
    'Hello {{ given_name | default: "there" }},\n\nWe dry and mill kelp from the bay, and growers nearby use it as a spring feed. With {{ acres | default: "a few" }} acres at {{ company | default: "your vineyard" }}, one pallet would do a trial on two rows.\n\nShall I send you the soil results from last year, or a sack to try?\n\n{{ signature }}\n\nRather not hear from us? [Leave this list]({{ unsubscribe_link }})',
  ),
};
const rowOf = (i: number): Record<string, string> => ({
  givenname: NAMES[i % 5] as string,
  company: COMPANIES[(i >> 2) % 5] as string,
  acres: i % 7 === 0 ? '' : String(i % 90),
});

/** Filling in and composing one more message, and ranking what is worth reading first, against their barest way. */
export async function messages(): Promise<void> {
  await rendering();
  ranking();
}

async function rendering(): Promise<void> {
  const source = messageSource(CONTENT, null);
  const compiled = compileMessage(source);
  const zone = createZones().get('Europe/Dublin');
  const mailbox = { address: 'ines@tidewaterkelp.example', senderName: 'Ines Aldrich' };
  const values = (i: number): MessageValues => ({
    senderName: mailbox.senderName,
    senderAddress: mailbox.address,
    signature: 'Ines Aldrich\nTidewater Kelp Works',
    unsubscribeLink: `http://127.0.0.1:4310/u/${i}`,
    browserLink: `http://127.0.0.1:4310/m/${i}`,
    postalAddress: '4 Slip Road, Carrow Bay',
    listName: 'Vineyards',
    campaignName: 'Spring trial',
    position: i + 1,
    recipients: RECIPIENTS,
    sendingMs: 1_795_000_000_000,
    zone,
  });
  const ours = async () => {
    for (let i = 0; i < RECIPIENTS; i++) {
      const proof = renderProof(compiled, recipientValues(rowOf(i), values(i)));
      await composeMessage({
        mailbox,
        to: `p${i}@grove.example`,
        proof,
        messageId: `${i}@tidewaterkelp.example`,
        references: [],
        dateMs: 1_795_000_000_000,
        leaveBy: [`http://127.0.0.1:4310/u/${i}`],
      });
    }
  };
  const engine = new Liquid();
  // The same texts with the names that the barest way needs, and without what only ours does.
  const plain = (text: string) => text.replaceAll(' | url_whole', '').replaceAll('{{ given name', '{{ given_name');
  const [subject, html, text] = [source.subject, source.html, source.text].map((t) => engine.parse(plain(t))) as [
    ReturnType<Liquid['parse']>,
    ReturnType<Liquid['parse']>,
    ReturnType<Liquid['parse']>,
  ];
  const bare = async () => {
    for (let i = 0; i < RECIPIENTS; i++) {
      const row = rowOf(i);
      const scope = {
        given_name: row['givenname'],
        company: row['company'],
        acres: row['acres'],
        signature: 'Ines Aldrich\nTidewater Kelp Works',
        unsubscribe_link: `http://127.0.0.1:4310/u/${i}`,
      };
      const composer = new MailComposer({
        from: { name: mailbox.senderName, address: mailbox.address },
        to: `p${i}@grove.example`,
        subject: engine.renderSync(subject, scope) as string,
        html: engine.renderSync(html, scope) as string,
        text: engine.renderSync(text, scope) as string,
        messageId: `<${i}@tidewaterkelp.example>`,
        date: new Date(1_795_000_000_000),
        headers: { 'List-Unsubscribe': `<http://127.0.0.1:4310/u/${i}>` },
      });
      await composer.compile().build();
    }
  };
  const timed = async (act: () => Promise<void>) => {
    const from = performance.now();
    await act();
    return performance.now() - from;
  };
  let [best, least] = [Infinity, Infinity];
  for (let i = 0; i < 7; i++) {
    least = Math.min(least, await timed(bare));
    best = Math.min(best, await timed(ours));
  }
  print({
    name: 'fill in and compose one more message',
    ratio: best / least,
    goal: 2,
    unit: 'times liquidjs and nodemailer’s composer for the same texts',
    microseconds: Math.round((best / RECIPIENTS) * 1000),
  });
}

function ranking(): void {
  const rows = Array.from({ length: PROOFS }, (_, i) => rowOf(i));
  const engine = new Liquid();
  const subject = engine.parse(CONTENT.subject.replaceAll('given_name', 'givenname'));
  let sink = 0;
  const [rendered, ranked] = bestInTurn(
    5,
    () => {
      for (const row of rows) sink += (engine.renderSync(subject, row) as string).length;
    },
    () => {
      const risks = new RiskRanking(fieldsOf(CONTENT), 60);
      for (let i = 0; i < rows.length; i++) risks.take(i, rows[i] as Record<string, string>);
      sink += risks.ranked().length;
    },
  );
  print({
    name: `rank ${PROOFS.toLocaleString('en')} proofs by risk`,
    ratio: ranked / rendered,
    goal: 3,
    unit: 'times rendering their subjects',
    milliseconds: Math.round(ranked),
    ranked: sink > 0 ? 1 : 0,
  });
}
