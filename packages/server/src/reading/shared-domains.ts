import listed from 'email-providers/all.json';

const shared: ReadonlySet<string> = new Set(listed);

/** Whether the addresses of a domain belong to people who have nothing to do with each other: a mail provider's. */
export const isSharedDomain = (domain: string): boolean => shared.has(domain);
