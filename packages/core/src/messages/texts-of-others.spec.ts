import { describe, expect, it } from 'vitest';
import { TEXTS_OF_OTHERS, type TextCase } from '../testing/corpus/texts';
import { compileTemplate, findFault } from './template';

const nameOf = ({ source, values, kind }: TextCase) =>
  `${kind ?? 'text'} ${JSON.stringify(source.slice(0, 100))} of ${JSON.stringify(values ?? {})}`;

describe('a text with fields as somebody writes it', () => {
  it.each(TEXTS_OF_OTHERS.map((one) => [nameOf(one), one] as const))('%s', (_, one) => {
    const { source, kind, values = {}, text, blanks = [], faults = [], refused } = one;
    const fault = findFault(source);
    if (refused !== undefined) {
      expect(fault?.message).toContain(refused);
      expect(fault?.line).toBeGreaterThan(0);
      expect(() => compileTemplate(source, kind)).toThrow();
      return;
    }
    expect(fault).toBeNull();
    const rendered = compileTemplate(source, kind).render(values);
    expect(rendered.faults).toEqual(faults.map((words) => expect.stringContaining(words) as string));
    if (text !== undefined) expect(rendered.text).toBe(text);
    expect(rendered.blanks).toEqual(blanks);
  });
});
