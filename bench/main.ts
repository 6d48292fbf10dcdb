import { checking } from './checking';
import { importing } from './importing';
import { messages } from './messages';
import { quality } from './planning/quality';
import { briefs } from './planning/briefs';
import { replanning } from './planning/replanning';
import { planning } from './planning/speed';
import { whatIf } from './planning/what-if';
import { reading } from './reading';
import { delay, sending } from './sending';
import { results } from './results';
import { signals } from './signals';

const wanted = process.argv[2] ?? '';
const rows = {
  planning,
  'what-if': whatIf,
  replanning,
  briefs,
  quality,
  checking,
  messages,
  sending,
  delay,
  signals,
  results,
  reading,
  importing,
};
for (const [name, run] of Object.entries(rows)) if (name.includes(wanted)) await run();
