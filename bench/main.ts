import { checking } from './checking';
import { importing } from './importing';
import { messages } from './messages';
import { quality } from './planning/quality';
import { replanning } from './planning/replanning';
import { planning } from './planning/speed';
import { sending } from './sending';

const wanted = process.argv[2] ?? '';
const rows = { planning, replanning, quality, checking, messages, sending, importing };
for (const [name, run] of Object.entries(rows)) if (name.includes(wanted)) await run();
