import type { RowsFormat } from '@baton/contract';

/** A message that is kept as it came. */
export interface Mail {
  kind: 'replies' | 'letters';
  id: number;
}

/** Where the server keeps what a page links to or shows: files to download, pictures. */
export const addressOf = {
  asset: (id: number) => `/api/assets/${id}/content`,
  message: (id: number, format: string) => `/api/messages/${id}/file?format=${format}`,
  /** The messages that a campaign has sent. */
  sent: (campaignId: number, format: 'mbox' | 'zip') => `/api/campaigns/${campaignId}/sent.${format}`,
  /** A campaign's rows with what became of them; in the kind of file that its list came in where none is named. */
  outcomes: (campaignId: number, format?: RowsFormat) =>
    `/api/campaigns/${campaignId}/outcomes${format === undefined ? '' : `.${format}`}`,
  aside: (listId: number) => `/api/lists/${listId}/aside.csv`,
  /** Of a message that came in, or of a letter of ours: its page, one of its files (counted from 1), all of it. */
  mailPage: (mail: Mail, withPictures: boolean) => `/api/${mail.kind}/${mail.id}/page?pictures=${withPictures}`,
  mailFile: (mail: Mail, at: number, isShown: boolean) => `/api/${mail.kind}/${mail.id}/files/${at}?show=${isShown}`,
  mailSource: (mail: Mail) => `/api/${mail.kind}/${mail.id}/source`,
  person: (contactId: number) => `/api/people/${contactId}/export.json`,
};
