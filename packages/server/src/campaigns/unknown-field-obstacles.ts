import { contentFault, listed, unknownFields } from '@baton/core';
import type { Obstacle } from '@baton/contract';
import type { MessageRow } from '../store/messages/message-rows';
import type { ListToCheck } from './lists-to-check';

/** What is said of fields of messages that are no columns of a campaign's lists. */
interface Found {
  obstacles: Obstacle[];
  /** Keys of the fields without which nobody can be written to, because no list has them. */
  keys: ReadonlySet<string>;
}

/** Fields of messages that are no columns of lists. Whom of several lists one of them leaves out is said of the people. */
export function unknownFieldObstacles(lists: readonly ListToCheck[], messages: ReadonlyMap<number, MessageRow>): Found {
  const whole = [...messages.values()].filter((m) => contentFault(m.content) === null);
  const found = whole.flatMap((m) =>
    gathered(m, lists).map((field) => ({ ...field, message: m, isOfAll: field.names.length === lists.length })),
  );
  const said = found.filter(({ without, isOfAll }) => without !== 'left_out' || isOfAll);
  return {
    keys: new Set(said.filter((f) => f.without === 'left_out').map((f) => f.key)),
    obstacles: said.map(({ message, field, names, meant, without }): Obstacle => {
      const near = meant === null ? '' : ` (“${meant}” is)`;
      const then = without === 'left_out' ? 'nobody can be written to' : 'people there get the message without it';
      return {
        kind: without === 'left_out' ? 'fix' : 'look',
        text: `“${message.name}” uses “${field}”, which is not a column of ${listed(names)}${near}: ${then}`,
        remedy: { label: 'Open the message', act: 'open_message', messageId: message.id },
      };
    }),
  };
}

/** Each unknown field of a message once, with the names of the lists that lack it. */
function gathered({ content }: MessageRow, lists: readonly ListToCheck[]) {
  const fields = new Map<string, ReturnType<typeof unknownFields>[number] & { names: string[] }>();
  for (const { name, columns } of lists)
    for (const unknown of unknownFields(content, columns)) {
      const before = fields.get(unknown.key);
      if (before) before.names.push(name);
      else fields.set(unknown.key, { ...unknown, names: [name] });
    }
  return [...fields.values()];
}
