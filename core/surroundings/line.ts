import type { Fragment } from '../converter/fragment';

/** Element and node of the line */
export const LINE = 'line';

/** A stiff dc line, V: it gives the mean of what is drawn at that voltage, whatever is drawn. */
export const stiffLine = (f: Fragment, volts: number): void => f.put({ kind: 'voltage-source', id: LINE, a: LINE, b: '0', value: volts });
