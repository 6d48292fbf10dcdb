import { compileTemplate, type Template } from '../../messages/template';
import { zoneOfPlace } from '../../time/zone-of-place';
import { sendOnReader } from '../import/columns/read-send-on';
import { parseAddress, type Address } from '../address/address';
import type { ListColumn } from './list-columns';
import { ADDRESS_KEY } from './list-query';

/** What of a row changes; absent is left as it is. */
export interface RowPatch {
  /** By field key; null where the value becomes blank. */
  fields: Record<string, string | null>;
  zone?: string | null;
  sendOn?: string | null;
  address?: Address;
}

export type PatchResult = { ok: true; patch: RowPatch } | { ok: false; reason: string };

/**
 * Returns a function that turns typed values into a row's change: reads the address, the zone and the send-on date
 * where such a column is meant, and computes what the list's formulas make of the changed row.
 */
export function rowPatcher(
  columns: readonly ListColumn[],
): (fields: Readonly<Record<string, string>>, typed: Readonly<Record<string, string>>) => PatchResult {
  const byKey = new Map(columns.map((c) => [c.key, c]));
  const addressKey = columns.find((c) => c.role === 'address')?.key;
  const formulas = columns.flatMap((c) =>
    c.formula === null ? [] : [{ key: c.key, template: compileTemplate(c.formula) }],
  );
  return (fields, typed) => {
    const patch: RowPatch = { fields: {} };
    for (const [key, value] of Object.entries(typed)) {
      const column = byKey.get(key);
      if (key === ADDRESS_KEY || key === addressKey) {
        const parsed = parseAddress(value);
        if (!parsed.ok) return parsed;
        patch.address = parsed.value;
        if (addressKey !== undefined) patch.fields[addressKey] = parsed.value.address;
      } else if (!column) return { ok: false, reason: `There is no column “${key}”` };
      else if (column.formula !== null) return { ok: false, reason: `${column.name} is computed; change its formula` };
      else {
        patch.fields[key] = value === '' ? null : value;
        if (column.role === 'time_zone') patch.zone = value === '' ? null : zoneOfPlace(value);
        if (column.role === 'send_on') patch.sendOn = sendOnReader([value])(value);
      }
    }
    compute(formulas, fields, patch);
    return { ok: true, patch };
  };
}

function compute(
  formulas: readonly { key: string; template: Template }[],
  fields: Readonly<Record<string, string>>,
  patch: RowPatch,
): void {
  const values: Record<string, string> = { ...fields };
  const put = (key: string, value: string | null) => {
    if (value === null) delete values[key];
    else values[key] = value;
  };
  for (const [key, value] of Object.entries(patch.fields)) put(key, value);
  for (const { key, template } of formulas) {
    // A formula that fails for a row leaves it blank there, as it would in a message.
    const text = template.render(values).text.trim();
    const value = text === '' ? null : text;
    if ((values[key] ?? null) !== value) patch.fields[key] = value;
    put(key, value);
  }
}
