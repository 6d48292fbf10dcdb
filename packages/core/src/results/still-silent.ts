/** How long people have been silent: until they replied, or until now. */
export interface Silence {
  /** In whatever unit, 0 or more. */
  lasted: number;
  /** Whether it ended with a reply; otherwise it goes on, or was ended by something else. */
  ended: boolean;
  people: number;
}

/** From so long on, this share is still silent. */
export interface SilenceStep {
  from: number;
  share: number;
}

/**
 * The share still silent over time, of people some of whom are silent still: a falling curve of steps, the first at 0.
 *
 * Source: E. L. Kaplan and P. Meier, Nonparametric estimation from incomplete observations, JASA 53 (1958).
 */
export function stillSilent(silences: readonly Silence[]): SilenceStep[] {
  const sorted = [...silences].sort((a, b) => a.lasted - b.lasted);
  const steps: SilenceStep[] = [{ from: 0, share: 1 }];
  let share = 1;
  let left = sorted.reduce((sum, s) => sum + s.people, 0);
  for (let i = 0; i < sorted.length;) {
    const at = (sorted[i] as Silence).lasted;
    let [ended, gone] = [0, 0];
    let same = i;
    for (let s = sorted[same]; s?.lasted === at; s = sorted[++same]) {
      gone += s.people;
      if (s.ended) ended += s.people;
    }
    if (ended > 0) {
      share *= 1 - ended / left;
      steps.push({ from: at, share });
    }
    left -= gone;
    i = same;
  }
  return steps;
}

/** The share still silent after so long. */
export function shareAt(curve: readonly SilenceStep[], after: number): number {
  let share = 1;
  for (const step of curve) {
    if (step.from > after) break;
    share = step.share;
  }
  return share;
}

/** With fewer replies a curve says nothing of what is to come. */
const LEAST_REPLIES = 5;

/**
 * How many more replies are to be expected of those who are still silent, if it goes on as it has for the others.
 *
 * @param silences of everybody
 * @param waiting of those of them who may still reply
 * @returns null where too few have replied to say
 */
export function repliesToCome(silences: readonly Silence[], waiting: readonly Silence[]): number | null {
  if (silences.reduce((sum, s) => sum + (s.ended ? s.people : 0), 0) < LEAST_REPLIES) return null;
  const curve = stillSilent(silences);
  const last = (curve.at(-1) as SilenceStep).share;
  return waiting.reduce((sum, { lasted, people }) => {
    const now = shareAt(curve, lasted);
    return sum + (now === 0 ? 0 : people * (1 - last / now));
  }, 0);
}
