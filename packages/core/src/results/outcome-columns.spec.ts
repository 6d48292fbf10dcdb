import { describe, expect, it } from 'vitest';
import { outcomeCsv } from './outcome-columns';

describe('outcomeCsv', () => {
  it('puts the outcome beside the original cells', () => {
    const csv = outcomeCsv(
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
          },
        },
      ],
      2,
    );
    expect(csv).toBe(
      "email,Name,state,reason,mailbox,sent,follow-up 1 sent,replied,outcome\r\na@x.example,'=SUM(A1),in progress,,ines@tidewaterkelp.example,2026-11-30 09:14,,,\r\n",
    );
  });
});
