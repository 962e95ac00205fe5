import type { Problem } from '../problem';

/** Thrown inside a run and turned into a problem at its edge: patterns are built, and programs carried out, in the middle of it. */
export class CircuitError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}
