import { describe, expect, it } from 'vitest';
import { writeCsv } from '../people/list/write-csv';
import { outcomeTable } from './outcome-columns';

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
