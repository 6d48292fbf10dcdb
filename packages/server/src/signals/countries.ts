import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { isIP } from 'node:net';
import { Reader } from 'mmdb-lib';

/** Which country an internet address belongs to, by what the registries have given out; ships with Baton, asks nobody. */
const DATABASE = '@ip-location-db/geo-whois-asn-country-mmdb/geo-whois-asn-country.mmdb';

/** Two letters (ISO 3166-1). */
const COUNTRY = /^[A-Z]{2}$/;

interface Found {
  country_code?: unknown;
}

/** Knows countries of addresses; the database is read when it is first asked. */
export class Countries {
  private reader: Promise<Reader<never>> | null = null;

  /** @returns as two letters; null where it is not known, as of addresses in a local network */
  async of(address: string): Promise<string | null> {
    if (isIP(address) === 0) return null;
    this.reader ??= readFile(createRequire(import.meta.url).resolve(DATABASE)).then((file) => new Reader<never>(file));
    const code = ((await this.reader).get(address) as Found | null)?.country_code;
    return typeof code === 'string' && COUNTRY.test(code) ? code : null;
  }
}
