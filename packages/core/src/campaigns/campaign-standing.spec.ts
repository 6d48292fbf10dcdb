import { describe, expect, it } from 'vitest';
import { campaignStands, type CampaignStanding } from './campaign-standing';

const says = (over: Partial<CampaignStanding> = {}) =>
  campaignStands({
    ...{ heldAll: false, isHeld: false, people: 12, stops: [], mailboxes: 4, heldMessages: 0, limit: null },
    ...{ next: { when: 'on Wed 25 Nov at 9:04', mailbox: 'ines@x.example' }, othersWait: false, ...over },
  });
const stop = (mailbox: string, why: CampaignStanding['stops'][number]['why'], until = '') => ({ mailbox, why, until });

describe('why messages of a campaign leave or do not', () => {
  it('is when the next one does', () =>
    expect(says()).toEqual(['The next message leaves on Wed 25 Nov at 9:04 from ines@x.example.']));

  it('is that they are held, and nothing else then', () => {
    expect(says({ heldAll: true, isHeld: true })).toEqual([
      'Everything is held: nothing leaves from any mailbox until it is released.',
    ]);
    expect(says({ isHeld: true, heldMessages: 3 })).toEqual(['It is held: nothing leaves until it is released.']);
  });

  it('is what keeps its mailboxes, together where that is the same', () => {
    const stops = [
      stop('ines@x.example', 'mailbox_rests', 'Thu 26 Nov'),
      stop('wren@x.example', 'mailbox_rests', 'Thu 26 Nov'),
      stop('tomas@x.example', 'quota'),
    ];
    expect(says({ stops }).slice(1)).toEqual([
      'ines@x.example and wren@x.example rest until Thu 26 Nov (see why under Mailboxes, where a rest is ended).',
      'tomas@x.example has used up its quota for today (wait, or raise it).',
    ]);
    const many = Array.from({ length: 5 }, (_, i) => stop(`m${i}@x.example`, 'day_off'));
    expect(says({ stops: many })[1]).toBe('5 mailboxes have a day off.');
  });

  it('is what a person decides', () => {
    expect(says({ next: null, heldMessages: 2, limit: 90, othersWait: true })).toEqual([
      'No message leaves before somebody lets one go.',
      'Its limit of 90 a day is used up for today (wait, or raise it).',
      '2 messages are held with the day’s batch; let them go in the plan.',
      'Those after the first group wait until you let them go.',
    ]);
    expect(says({ next: null, mailboxes: 0 })).toEqual(['No message has a time: the campaign has no mailbox.']);
    expect(says({ next: null })).toEqual(['No message has a time yet.']);
    expect(says({ next: null, people: 0 })).toEqual([]);
  });
});
