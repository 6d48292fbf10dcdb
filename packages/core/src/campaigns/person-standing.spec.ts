import { describe, expect, it } from 'vitest';
import { whyNotWritten, type PersonInCampaign, type PersonStanding } from './person-standing';

const inCampaign = (over: Partial<PersonInCampaign>): PersonInCampaign => ({
  campaign: 'Vines',
  campaignState: 'running',
  state: 'waiting',
  reason: '',
  next: null,
  ...over,
});
const why = (campaigns: Partial<PersonInCampaign>[], over: Partial<PersonStanding> = {}) =>
  whyNotWritten({ suppression: null, heldAll: false, campaigns: campaigns.map(inCampaign), ...over });

describe('whyNotWritten', () => {
  it.each([
    [[], {}, 'They are in no campaign yet.'],
    [[{ next: 'on Tue 24 Nov at 10:42' }], {}, 'The next message of Vines leaves on Tue 24 Nov at 10:42.'],
    [
      [{ next: 'on Fri', reason: 'away until 2026-11-26', state: 'in_progress' as const }],
      {},
      'The next message of Vines leaves on Fri (away until 2026-11-26).',
    ],
    [[{}], {}, 'Their next message of Vines has no time yet: no mailbox has room for it.'],
    [[{ campaignState: 'held' as const, next: 'soon' }], {}, 'Vines is held: nothing leaves until it is released.'],
    [
      [{ next: 'soon' }],
      { heldAll: true },
      'Everything is held: nothing leaves from any mailbox until it is released.',
    ],
    [
      [{ next: 'soon' }],
      { suppression: 'hard bounce' },
      'Nothing is sent to them; they are on the suppression list: hard bounce.',
    ],
    [
      [{ state: 'replied' as const }, { campaign: 'Old', state: 'done' as const }],
      {},
      'They replied to Vines, so they get no more messages.',
    ],
    [[{ state: 'done' as const }, { campaign: 'Open', next: 'soon' }], {}, 'The next message of Open leaves soon.'],
    [
      [{ state: 'left_out' as const, reason: 'no value for company' }],
      {},
      'They were left out of Vines: no value for company.',
    ],
    [[{ state: 'stopped' as const }], {}, 'Vines was stopped for them: no reason is recorded.'],
  ])('of %j, %j says: %s', (campaigns, over, sentence) => expect(why(campaigns, over)).toBe(sentence));
});
