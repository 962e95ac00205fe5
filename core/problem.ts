/**
 * Errors as values. A problem says what is wrong, where, and what would be right;
 * exceptions are kept for bugs.
 */
export interface Problem {
  /** Short stable word for programs: "unit", "range", "unknown-field", "unreachable" … */
  code: string;
  /** Field path ("brief.line.max") or element name ("Q1"). */
  where: string;
  /** What is wrong, as one plain sentence without a final full stop. */
  message: string;
  /** What would be right, or what to change. */
  remedy: string;
}

export type Result<T> = { ok: true; value: T } | { ok: false; problem: Problem };

/** A result that there is. */
export const ok = <T>(value: T): Result<T> => ({ ok: true, value });

/** A result that there is not: what is wrong, where, and what would help. */
export const fail = (code: string, where: string, message: string, remedy: string): { ok: false; problem: Problem } => ({
  ok: false,
  problem: { code, where, message, remedy },
});

/** What is wrong and what would help, without its place: for where that is plain to see. */
export const inWords = ({ message, remedy }: Problem): string => `${message}; ${remedy}`;

/** One line for a terminal or a tooltip: "brief.line.max: 18 V is below … Choose …". */
export const describeProblem = (p: Problem): string => `${p.where ? `${p.where}: ` : ''}${p.message}; ${p.remedy}`;
