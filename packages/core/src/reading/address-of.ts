import { parseAddress } from '../people/address/address';

/** An address as addresses are compared; null for what is none. */
export function addressOf(text: string): string | null {
  const parsed = parseAddress(text);
  return parsed.ok ? parsed.value.key : null;
}
