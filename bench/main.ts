import { checking } from './checking';
import { importing } from './importing';
import { messages } from './messages';
import { planning } from './planning';
import { sending } from './sending';

const wanted = process.argv[2] ?? '';
const rows = { planning, checking, messages, sending, importing };
for (const [name, run] of Object.entries(rows)) if (name.includes(wanted)) await run();
