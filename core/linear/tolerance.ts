/**
 * How exact the engine is asked to be. One object, passed down from the caller; every bound in circuit/, orbit/ and
 * response/ that is no property of the arithmetic itself is a multiple of one of these, said where it stands.
 *
 * What they mean
 *   relative  a settled cycle is done when Newton's last step is below this, each state against the largest of its
 *             kind (A, V, Wb; what a sampled controller keeps against its own) over the period. Newton doubles the
 *             digits, so what is left is far smaller. The residual itself has to be below ROUNDING times as much.
 *   noise     rounding of a watched quantity, relative to the terms it is summed from: below it no sign is trusted
 *   time      share of a period within which two moments are one, and to which clocks have to repeat
 */
export interface Tolerance {
  relative: number;
  noise: number;
  time: number;
}

export const DEFAULT_TOLERANCE: Readonly<Tolerance> = { relative: 1e-10, noise: 1e-13, time: 1e-9 };

/**
 * In a stiff circuit (leakages of 1e-9 S beside conductances of 100 S) rounding alone leaves up to a thousand times
 * what is asked for; a Newton step that no longer shrinks is accepted up to there, and no further.
 */
export const ROUNDING = 1e3;

/** Larger than any voltage, current or flux of an apparatus, far below what overflows: a state beyond it grows without bound. */
export const BOUNDLESS = 1e15;

/** What was done for an answer: counted as it is done, so that a slow or doubtful one can be seen. */
export interface Work {
  /** Steps of the state through a pattern: one or more small products each */
  steps: number;
  events: number;
  /** Patterns built and prepared: a factorisation and a step table each */
  patterns: number;
  /** Periods marched */
  periods: number;
  /** Newton iterations on the period map */
  iterations: number;
}

/** Nothing done yet. */
export const noWork = (): Work => ({ steps: 0, events: 0, patterns: 0, periods: 0, iterations: 0 });

/** What was done since. */
export const workSince = (now: Work, before: Work): Work => ({
  steps: now.steps - before.steps,
  events: now.events - before.events,
  patterns: now.patterns - before.patterns,
  periods: now.periods - before.periods,
  iterations: now.iterations - before.iterations,
});
