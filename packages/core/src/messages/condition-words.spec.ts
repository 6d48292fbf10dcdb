import { describe, expect, it } from 'vitest';
import { conditionWords } from './condition-words';

describe('conditionWords', () => {
  it.each([
    ['{% if region == "North" %}', 'where region is North'],
    ['{%- if my_field -%}', 'where there is a my field'],
    ["{% if acres >= 10 and region != 'South' %}", 'where acres is at least 10 and region is not South'],
    ['{% elsif company contains "wine" %}', 'or else where company contains wine'],
    ['{% if company == blank %}', 'where company is blank'],
    ['{% if company != "" %}', 'where company is not blank'],
    ['{% unless trees or acres %}', 'unless there is a trees or there is a acres'],
    ['{% else %}', 'otherwise'],
    ['{% endif %}', 'for all again'],
    ['{% for x in y %}', ''],
    ['{{ name }}', ''],
  ])('%s: %s', (tag, words) => expect(conditionWords(tag)).toBe(words));
});
