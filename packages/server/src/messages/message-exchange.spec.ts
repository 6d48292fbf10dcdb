import { strToU8, zipSync } from 'fflate';
import { EMPTY_CONTENT, followingText, SHIPPED_LAYOUTS, type MessageContent } from '@baton/core';
import type { AssetView, BriefView, CampaignSummary, LayoutView, MessageVersion, MessageView } from '@baton/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { stepOf, TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

/** One pixel. */
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

const upload = async (name: string, bytes: Buffer | string): Promise<number> =>
  (await world.api.upload<{ id: number }>('/assets', name, new Uint8Array(Buffer.from(bytes)))).id;

const content = (over: object): object => ({ ...EMPTY_CONTENT, subject: 'Kelp', body: 'Hello', ...over });

describe('files, layouts and versions', () => {
  it('are kept once, named apart, and not taken away while they are used', async () => {
    const first = await upload('map.png', PNG);
    expect(await upload('map.png', PNG)).toBe(first);
    const other = await upload('map.png', Buffer.concat([PNG, Buffer.from('x')]));
    await world.message({ name: 'Uses', attachments: [{ kind: 'asset', assetId: first }] });
    const assets = await world.api.get<AssetView[]>('/assets');
    expect(assets.filter((a) => a.name.startsWith('map')).map((a) => [a.name, a.type, a.usedBy])).toEqual([
      ['map 2.png', 'image/png', []],
      ['map.png', 'image/png', ['Uses']],
    ]);
    await expect(world.api.remove(`/assets/${first}`)).rejects.toThrow('remove it there first');
    await world.api.remove(`/assets/${other}`);
    await expect(upload('empty.txt', '')).rejects.toThrow('is empty');
    const page = await upload('page.html', '<script>alert(1)</script>');
    const shown = await fetch(`${world.url}/api/assets/${page}/content`);
    expect(shown.headers.get('content-type')).toBe('application/octet-stream');
    expect(shown.headers.get('content-disposition')).toContain('attachment');
  });

  it('of layouts: those that ship, and one’s own', async () => {
    await world.api.post('/layouts', { name: 'Ours', layout: { blocks: [{ kind: 'divider' }] } });
    const layouts = await world.api.get<LayoutView[]>('/layouts');
    expect(layouts.map((l) => l.name)).toEqual([...SHIPPED_LAYOUTS.map((l) => l.name), 'Ours']);
    expect(layouts.at(-1)?.layout.blocks.map((b) => b.kind)).toEqual(['divider', 'letter']);
    await world.api.remove(`/layouts/${layouts.at(-1)?.id}`);
    expect(await world.api.get<LayoutView[]>('/layouts')).toHaveLength(SHIPPED_LAYOUTS.length);
  });

  it('of a message: what it was comes back, and so does a deleted one', async () => {
    const id = await world.message({ name: 'Versions', subject: 'One', body: 'x' });
    const save = (subject: string) =>
      world.api.put(`/messages/${id}`, { name: 'Versions', content: content({ subject }) });
    const find = async () => (await world.api.get<MessageView[]>('/messages')).find((m) => m.id === id);
    await save('Two');
    await save('Three');
    const versions = await world.api.get<MessageVersion[]>(`/messages/${id}/versions`);
    expect(versions.map((v) => v.content.subject)).toEqual(['One']);
    await world.api.put(`/messages/${id}`, { name: 'Versions', content: versions[0]?.content });
    expect((await find())?.content.subject).toBe('One');
    const draft = await world.draft({
      listId: null as unknown as number,
      mailboxIds: [],
      steps: [stepOf(id)],
      name: 'Uses it',
    });
    await expect(world.api.remove(`/messages/${id}`)).rejects.toThrow('is in the draft “Uses it”');
    await world.api.put(`/campaigns/${draft.id}`, { ...choicesOf(draft), steps: [] });
    await world.api.remove(`/messages/${id}`);
    expect(await find()).toBeUndefined();
    await world.api.post(`/messages/${id}/restore`, {});
    expect((await find())?.content.subject).toBe('One');
    expect((await world.api.get<CampaignSummary[]>('/campaigns')).length).toBeGreaterThan(0);
  });
});

describe('a message as a file', () => {
  const base = () => world.url;
  const save = async (id: number, format: string) =>
    Buffer.from(await (await fetch(`${base()}/api/messages/${id}/file?format=${format}`)).arrayBuffer());
  async function bringIn(name: string, bytes: Buffer | string): Promise<MessageView> {
    const file = new Uint8Array(Buffer.from(bytes));
    const { id } = await world.api.upload<{ id: number }>('/messages/bring-in', name, file);
    return (await world.api.get<MessageView[]>('/messages')).find((m) => m.id === id) as MessageView;
  }

  it('goes out and comes back in every form', async () => {
    const picture = await upload('terrace.png', PNG);
    const paper = await upload('offer.pdf', '%PDF-1.4 offer');
    const body = 'Hello {{ given_name | default: "there" }},\n\nkelp for [you](https://kelp.example/?c={{ company }})';
    const layout = structuredClone(SHIPPED_LAYOUTS[1]?.layout) as NonNullable<MessageContent['layout']>;
    layout.blocks.unshift({ id: 'p', kind: 'picture', src: `asset:${picture}`, alt: 'Terrace', href: '', width: null });
    const id = await world.message({
      ...{ name: 'Out', subject: 'For {{ company }}', body, format: 'layout', layout },
      attachments: [{ kind: 'asset', assetId: paper }],
    });
    const original = (await world.api.get<MessageView[]>('/messages')).find((m) => m.id === id) as MessageView;

    const zip = await save(id, 'zip');
    expect((await bringIn('anything', zip)).content).toEqual(original.content);

    const mail = await bringIn('Out.eml', await save(id, 'eml'));
    expect(mail.content.subject).toBe('For {{ company }}');
    expect(mail.content.attachments).toEqual([{ kind: 'asset', assetId: paper }]);
    expect(JSON.stringify(mail.content.body)).toContain(`"src":"asset:${picture}"`);
    expect(followingText(mail.content)).toContain('Hello {{ given_name | default: "there" }},');

    const mjml = await bringIn('Out.mjml', await save(id, 'mjml'));
    expect(mjml.content.layout?.blocks.map((b) => b.kind)).toEqual(
      expect.arrayContaining(['letter', 'button', 'space', 'text']),
    );
    const html = await bringIn('Out.html', await save(id, 'html'));
    expect(followingText(html.content)).toContain('kelp for you: https://kelp.example/?c={{ company | url_part }}');
    const text = await bringIn('Out.txt', await save(id, 'txt'));
    expect(text.name).toBe('Out');
    expect(followingText(text.content)).toContain('Hello {{ given_name | default: "there" }},');
  });

  it('brings no file of the library that its own does not hold', async () => {
    const own = await upload('terrace.png', PNG);
    const content = { subject: 'x', body: 'y', attachments: [{ kind: 'asset', assetId: own }] };
    const message = { format: 'baton-message/1', name: 'Foreign', content, assets: [] };
    const zip = Buffer.from(zipSync({ 'message.json': strToU8(JSON.stringify(message)) }));
    expect((await bringIn('x.zip', zip)).content.attachments).toEqual([{ kind: 'asset', assetId: 0 }]);
  });

  it('is refused in a sentence where it is none', async () => {
    await expect(bringIn('x.zip', Buffer.from('PK\u0003\u0004broken', 'latin1'))).rejects.toThrow(
      'zip file is damaged',
    );
    await expect(bringIn('x.txt', '')).rejects.toThrow('is empty');
    await expect(bringIn('x.txt', Buffer.from([0x25, 0x50, 0x44, 0x46, 0, 1, 2, 255, 254, 0]))).rejects.toThrow();
  });
});

function choicesOf(b: BriefView): object {
  const { revision, name, listId, mailboxIds, startDate, window, windowZone, dailyLimit, leaveOutBlank } = b;
  return { revision, name, listId, mailboxIds, startDate, window, windowZone, dailyLimit, leaveOutBlank };
}
