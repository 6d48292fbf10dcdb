import { describe, expect, it } from 'vitest';
import { writeCsv } from '../people/list/write-csv';
import { outcomeLine, outcomeTable, type RecipientOutcome } from './outcome-columns';

it('separates by tabs what has commas, and quotes what has tabs', () => {
  expect(writeCsv([['a,b', 'c\td', ' e', '=1']], '\t')).toBe('a,b\t"c\td"\t" e"\t\'=1\r\n');
});

it('writes a row and what became of it apart, as one line of JSON', () => {
  const outcome: RecipientOutcome = {
    ...{ state: 'done', reason: '', mailbox: '', sentAt: [], repliedAt: '', outcome: '' },
    seen: { opens: 0, firstOpenedAt: '', lastOpenedAt: '', clicks: 0, links: [] },
  };
  const line = outcomeLine(['state', '__proto__'], { cells: ['Kerry', 'x\ny'], outcome });
  expect(line.endsWith('}\n')).toBe(true);
  expect(line.trimEnd()).not.toContain('\n');
  const { row, outcome: told } = JSON.parse(line) as { row: Record<string, string>; outcome: RecipientOutcome };
  expect([row['state'], Object.entries(row)[1], told.state]).toEqual(['Kerry', ['__proto__', 'x\ny'], 'done']);
});

describe('a table of outcomes', () => {
  it('puts the outcome beside the original cells', () => {
    const table = outcomeTable(
      ['email', 'Name'],
      [
        {
          cells: ['a@x.example', '=SUM(A1)'],
          outcome: {
            state: 'in_progress',
            reason: '',
            mailbox: 'ines@tidewaterkelp.example',
            sentAt: ['2026-11-30 09:14'],
            repliedAt: '',
            outcome: '',
            seen: {
              ...{ opens: 2, firstOpenedAt: '2026-11-30 10:00', lastOpenedAt: '2026-12-01 08:00' },
              ...{ clicks: 1, links: ['https://tidewaterkelp.example/soil'] },
            },
          },
        },
      ],
      2,
    );
    expect(writeCsv(table)).toBe(
      "email,Name,state,reason,mailbox,sent,follow-up 1 sent,replied,outcome,opens,first opened,last opened,clicks,links followed\r\na@x.example,'=SUM(A1),in progress,,ines@tidewaterkelp.example,2026-11-30 09:14,,,,2,2026-11-30 10:00,2026-12-01 08:00,1,https://tidewaterkelp.example/soil\r\n",
    );
  });
});
