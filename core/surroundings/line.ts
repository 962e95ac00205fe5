import type { Fragment } from '../converter/fragment';
import type { Problem } from '../problem';
import type { Brief } from './brief';

/** Element of the line, and the node that the converter is fed at */
export const LINE = 'line';

/** The node where the line, or the filter behind it, ends and the converter begins, and the source of 0 V between them: where both impedances are seen */
export const INPUT = 'input';

/** Ω beside the inductance of wiring, where a filter’s follows it: far above what either is at any frequency of the switching */
const WIRING = 1e4;

/** Has the line an impedance of its own: wiring, a source's? */
const isStiff = ({ lineResistance, lineInductance }: Brief): boolean => lineResistance === undefined && lineInductance === undefined;

/**
 * A dc line, V: stiff, so that it gives the mean of what is drawn at that voltage, whatever is drawn; or behind the
 * resistance and inductance that the brief gives it.
 * @param fedAt the node that it feeds a filter at, where one stands between
 */
export function putLine(f: Fragment, brief: Brief, volts: number, fedAt?: string): void {
  const { lineResistance, lineInductance } = brief;
  const stiff = isStiff(brief);
  const to = fedAt ?? (stiff ? LINE : INPUT);
  const behind = `${LINE} source`;
  f.put({ kind: 'voltage-source', id: LINE, a: stiff ? to : behind, b: '0', value: volts });
  const between = lineResistance === undefined ? behind : lineInductance === undefined ? to : `${LINE} between`;
  if (lineResistance !== undefined) f.resistor(`${LINE} resistance`, behind, between, lineResistance);
  if (lineInductance !== undefined) f.put({ kind: 'inductor', id: `${LINE} inductance`, a: between, b: to, inductance: lineInductance });
  // Two inductances in series leave the node between them to what wiring loses at high frequencies.
  if (lineInductance !== undefined && fedAt !== undefined) f.resistor(`${LINE} damping`, between, to, WIRING);
}

/** Beside a line that is not stiff, what smooths what is drawn is part of the circuit, before the place where the converter's impedance is seen. */
export function besideLine(f: Fragment, brief: Brief, fedAt?: string): void {
  if (isStiff(brief) && fedAt === undefined) return;
  f.fedThrough(INPUT, INPUT, LINE);
  f.intoCircuit(LINE, INPUT, '0');
}

/** Why the line can not be what the brief says; undefined where it can. */
export const lineRefusal = (brief: Brief): Problem | undefined =>
  isStiff(brief) || brief.line.mains === undefined ? undefined : { code: 'impossible', where: brief.lineInductance === undefined ? 'brief.lineResistance' : 'brief.lineInductance', message: 'the mains is taken as stiff', remedy: 'leave the impedance of the line out, or take a dc line' };
