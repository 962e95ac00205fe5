import type { Fragment } from '../converter/fragment';
import type { Problem } from '../problem';
import type { Brief } from './brief';

/** Element of the line, and the node that the converter is fed at */
export const LINE = 'line';

/** Has the line an impedance of its own: wiring, a source's, a filter's? */
const isStiff = ({ lineResistance, lineInductance }: Brief): boolean => lineResistance === undefined && lineInductance === undefined;

/**
 * A dc line, V: stiff, so that it gives the mean of what is drawn at that voltage, whatever is drawn; or behind the
 * resistance and inductance that the brief gives it.
 */
export function putLine(f: Fragment, brief: Brief, volts: number): void {
  const { lineResistance, lineInductance } = brief;
  const behind = `${LINE} source`;
  f.put({ kind: 'voltage-source', id: LINE, a: isStiff(brief) ? LINE : behind, b: '0', value: volts });
  const between = lineResistance === undefined ? behind : lineInductance === undefined ? LINE : `${LINE} between`;
  if (lineResistance !== undefined) f.resistor(`${LINE} resistance`, behind, between, lineResistance);
  if (lineInductance !== undefined) f.put({ kind: 'inductor', id: `${LINE} inductance`, a: between, b: LINE, inductance: lineInductance });
}

/** Beside a line that is not stiff, what smooths what is drawn is part of the circuit. */
export const besideLine = (f: Fragment, brief: Brief): void => void (isStiff(brief) || f.intoCircuit(LINE, LINE, '0'));

/** Why the line can not be what the brief says; undefined where it can. */
export const lineRefusal = (brief: Brief): Problem | undefined =>
  isStiff(brief) || brief.line.mains === undefined ? undefined : { code: 'impossible', where: brief.lineInductance === undefined ? 'brief.lineResistance' : 'brief.lineInductance', message: 'the mains is taken as stiff', remedy: 'leave the impedance of the line out, or take a dc line' };
