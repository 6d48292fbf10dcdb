/** Where the server keeps what a page links to or shows: files to download, pictures. */
export const addressOf = {
  asset: (id: number) => `/api/assets/${id}/content`,
  message: (id: number, format: string) => `/api/messages/${id}/file?format=${format}`,
  outcomes: (campaignId: number) => `/api/campaigns/${campaignId}/outcomes.csv`,
  aside: (listId: number) => `/api/lists/${listId}/aside.csv`,
  person: (contactId: number) => `/api/people/${contactId}/export.json`,
};
