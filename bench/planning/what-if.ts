import type { PlanWork } from '@baton/contract';
import { seededRandom } from '@baton/core';
import { answerWhatIf } from '../../packages/web/src/app/plan/what-if-answer';
import { best, print } from '../row';
import { threeMessages } from './workspaces';

const PEOPLE = 10_000;

/** All that the worker does for one turn of a knob: the changed input, the plan, loads and ceilings for the board. */
export function whatIf(): void {
  const input = threeMessages(PEOPLE);
  const ids = { mailboxes: input.mailboxes.map((_, i) => i + 1), campaigns: input.campaigns.map((_, i) => i + 1) };
  const work: PlanWork = { input, ids };
  const random = seededRandom(3);
  const doubles = Float64Array.from({ length: PEOPLE * 3 }, random);
  const sorting = best(7, () => void doubles.slice().sort());
  let quota = 60;
  const answered = best(12, () => void answerWhatIf(work, [{ kind: 'quota', mailbox: 1, to: quota++ }]));
  print({
    name: `what-if on ${PEOPLE.toLocaleString('en')} people by 3 messages by 20 mailboxes, board and all`,
    ratio: Math.max(0, answered - 20) / sorting,
    goal: 6,
    unit: 'times sorting as many random doubles, beside 20 ms',
    milliseconds: Math.round(answered),
    sorting: Number(sorting.toFixed(1)),
  });
}
