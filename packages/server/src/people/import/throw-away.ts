import listed from 'disposable-email-domains';

const domains: ReadonlySet<string> = new Set(listed);

/** Whether a domain gives away addresses that live for an hour or a day; so are all below it. */
export function isThrowAway(domain: string): boolean {
  for (let at = domain; at.includes('.'); at = at.slice(at.indexOf('.') + 1)) if (domains.has(at)) return true;
  return false;
}
